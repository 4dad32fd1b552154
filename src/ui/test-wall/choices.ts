import type { Look } from "@/core/look/look";
import type { Cabinet } from "@/core/profile/profiles";

/** What may stand along a side beside glass. */
export interface Choices {
  look: Look;
  cabinet: Cabinet;
  looks: readonly { id: string; name: string }[];
  versions: readonly { id: number; name: string; number: number }[];
}
