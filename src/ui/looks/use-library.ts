import { useQuery } from "@tanstack/react-query";
import type { Library } from "@/contract/looks";
import { api } from "../shared/api";

/** Looks that a shot may be given to wear; undefined until they are there. */
export const useLibrary = (): Library | undefined => useQuery({ queryKey: ["looks"], queryFn: api.library }).data;
