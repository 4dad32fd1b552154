import { existsSync } from "node:fs";
import type { Profile } from "../core/profile/profiles";
import { demoProfiles } from "../demo/glass/profiles";
import { readProfile } from "./files";
import { UsageError } from "./options";

/** A profile by its file, or by the id of one that ships. Throws UsageError that names the option. */
export function profileNamed(option: string, name: string): Profile {
  const shipped = demoProfiles().find(({ id }) => id === name);
  if (shipped && !existsSync(name)) return shipped;
  if (!existsSync(name))
    throw new UsageError(
      `${option} ${name}: is no file, and no profile that ships: ${demoProfiles()
        .map(({ id }) => id)
        .join(", ")}`,
    );
  return readProfile(name);
}
