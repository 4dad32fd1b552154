import { type Look, lookSchema } from "../../core/look/look";
import { defaultViewKind } from "../../core/view/view";

/** What a shot that was just brought in opens with: the clean reference, nothing on. `sensor`: mm. */
export const firstLook = (
  name: string,
  sensor: { width: number; height: number },
  squeeze: number,
  isForDisplay: boolean,
): Look =>
  lookSchema.parse({
    format: "pale-halo-look",
    version: 1,
    name,
    camera: { sensor, squeeze },
    lens: { profile: "orrin-vale-50", focalLength: 50, stop: 2 },
    elements: [],
    view: { kind: defaultViewKind(isForDisplay) },
  });
