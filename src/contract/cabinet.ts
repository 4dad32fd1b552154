import { z } from "zod";
import { type Profile, profileSchema as profile } from "../core/profile/profiles";

/** A profile of the cabinet. */
export interface CabinetEntry {
  profile: Profile;
  /** It ships with the application, and stays as it is. */
  shipped: boolean;
  /** Id of the profile it began as a copy of. */
  copiedFrom: string | null;
  revision: number;
}

const revision = z.number().int().positive();

/** POST /api/cabinet: keeps a profile of one's own; where its id is taken it gets a number. */
export const keepProfileBody = z.object({ profile, copiedFrom: z.string().max(80).nullable().default(null) }).strict();

/** PUT /api/cabinet/ID: in place of the one of `revision`, which stays for versions that were kept with it. */
export const changeProfileBody = z.object({ profile, revision }).strict();
