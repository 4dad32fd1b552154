import type { Profile } from "../../core/profile/profiles";
import { demoFilters } from "./filters";
import { demoLenses } from "./lenses";

/** The whole cabinet of the demo production. */
export const demoProfiles = (): Profile[] => [...demoLenses(), ...demoFilters()];
