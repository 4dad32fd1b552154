import type { Look } from "@/core/look/look";

/** Something that may be worn: by its place in the library, or as another shot wears it. */
export interface Offer {
  key: string;
  group: "Ready" | "Own" | "On other shots";
  id: string;
  name: string;
  look: Look;
  /** Of one's own: what it is changed or removed by. */
  revision: number | null;
}
