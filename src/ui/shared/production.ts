"use client";
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { type ListedProduction, PRODUCTION_COOKIE } from "../../contract/productions";
import { isMadeUpId, type Shot } from "../../contract/shots";
import { useWorkspace } from "./workspace";
import { api } from "./api";

/** A shot by its number, where it has one, and its name. */
export const shotTitle = ({ id, name }: Pick<Shot, "id" | "name">): string =>
  isMadeUpId(id) || id === name ? name : `${id} ${name}`;

const YEAR_SECONDS = 365 * 86_400;

/** Notes which production one is in, for this page and the next visit. */
export function enterProduction(id: string): void {
  document.cookie = `${PRODUCTION_COOKIE}=${encodeURIComponent(id)}; path=/; max-age=${YEAR_SECONDS}; samesite=strict`;
  useWorkspace.getState().set({ productionId: id });
}

function enteredBefore(): string | null {
  const found = document.cookie.split("; ").find((entry) => entry.startsWith(`${PRODUCTION_COOKIE}=`));
  return found ? decodeURIComponent(found.slice(PRODUCTION_COOKIE.length + 1)) : null;
}

/** The production that is meant: the one entered, or else the first that is not put away. */
const currentOf = (all: readonly ListedProduction[], entered: string | null): ListedProduction | null =>
  all.find(({ id }) => id === entered) ?? all.find(({ archived }) => !archived) ?? null;

/** All productions, and the one that one is in; undefined until they are there, null where there is none. */
export function useProductions(): { all: ListedProduction[]; current: ListedProduction | null | undefined } {
  const { data } = useQuery({ queryKey: ["productions"], queryFn: api.productions });
  const productionId = useWorkspace((state) => state.productionId);
  return { all: data ?? [], current: data && currentOf(data, productionId ?? enteredBefore()) };
}

/** Shots of the production one is in; asked for again every so often (ms) where that is said. */
export function useShots(again?: (shots: readonly Shot[]) => number | false) {
  const { current } = useProductions();
  const { data, error } = useQuery({
    queryKey: ["shots"],
    queryFn: api.shots,
    refetchInterval: ({ state }) => (state.data && again ? again(state.data) : false),
  });
  const shots = useMemo(
    () => (current === undefined ? undefined : data?.filter(({ production }) => production.id === current?.id)),
    [data, current],
  );
  return { data: shots, error };
}
