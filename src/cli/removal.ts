import type { OpenData } from "../server/app/open";
import {
  removeFootageNamed,
  removeRenderNamed,
  removeShotNamed,
  removeTableNamed,
  removeVersionNamed,
  usesOfShot,
} from "../server/removal/remove";
import { UsageError } from "./options";

/** What can be removed, by the word for it; each gives what it says before. */
export const REMOVALS: Record<
  string,
  { says(data: OpenData, id: string): Promise<string>; remove(data: OpenData, id: string): Promise<unknown> }
> = {
  shot: {
    async says({ db }, id) {
      const { usedBy, goes, stays } = await usesOfShot(db, id);
      if (usedBy.length) return `it is laid over ${usedBy.join(", ")}`;
      return `with it go ${goes.join(", ")}${stays.length ? `; what stays: ${stays.join(", ")}` : ""}`;
    },
    remove: ({ db }, id) => removeShotNamed(db, id),
  },
  footage: {
    says: async () => "its files go with it where they were sent here",
    remove: ({ db }, id) => removeFootageNamed(db, id),
  },
  version: {
    says: async () => "the look it holds goes with it",
    async remove({ db }, id) {
      const [shot, version] = id.split("/");
      if (!shot || !version) throw new UsageError(`version ${id}: write it as SHOT/ID, for example TL-010/3`);
      await removeVersionNamed(db, shot, version);
    },
  },
  render: { says: async () => "its files go with it", remove: ({ db }, id) => removeRenderNamed(db, id) },
  table: { says: async () => "the table goes", remove: ({ db }, id) => removeTableNamed(db, id) },
};
