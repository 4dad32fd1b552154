"use client";
import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import type { Shot } from "../../contract/shots";
import { useWorkspace } from "./workspace";
import { api } from "./api";

/** Ids that are made up when footage is taken in say nothing to anybody. */
const MADE_UP = /^shot-[0-9a-f]{8}$/;

/** A shot by its number, where it has one, and its name. */
export const shotTitle = ({ id, name }: Pick<Shot, "id" | "name">): string =>
  MADE_UP.test(id) || id === name ? name : `${id} ${name}`;

/** Says in the head of the page which production is open. */
export function useProductionTitle(): void {
  const shots = useQuery({ queryKey: ["shots"], queryFn: api.shots });
  const title = shots.data?.[0]?.production.name ?? null;
  const tell = useWorkspace((state) => state.set);
  useEffect(() => tell({ title }), [tell, title]);
}
