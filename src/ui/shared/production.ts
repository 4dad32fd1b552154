"use client";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { isMadeUpId, type Shot } from "../../contract/shots";
import { useWorkspace } from "./workspace";
import { api } from "./api";

/** A shot by its number, where it has one, and its name. */
export const shotTitle = ({ id, name }: Pick<Shot, "id" | "name">): string =>
  isMadeUpId(id) || id === name ? name : `${id} ${name}`;

/** Says in the head of the page which production is open. */
export function useProductionTitle(): void {
  const shots = useQuery({ queryKey: ["shots"], queryFn: api.shots });
  const title = shots.data?.[0]?.production.name ?? null;
  const tell = useWorkspace((state) => state.set);
  useEffect(() => tell({ title }), [tell, title]);
}
