import { useQuery } from "@tanstack/react-query";
import type { Library } from "@/contract/looks";
import { api } from "../shared/api";

const query = { queryKey: ["looks"], queryFn: api.library };

/** Looks that a shot may be given to wear; undefined until they are there. */
export const useLibrary = (): Library | undefined => useQuery(query).data;

/** Why they are not there, in words; null where they are, or on their way. */
export const useLibraryProblem = (): string | null => useQuery(query).error?.message ?? null;
