import type { KeptLook } from "./kept-look";

/** Something that may be worn: by its place in the library, or as another shot wears it. */
export interface Offer {
  key: string;
  group: "Ready" | "Own" | "On other shots";
  id: string;
  name: string;
  purpose: string | null;
  tags: readonly string[];
  kept: KeptLook;
}
