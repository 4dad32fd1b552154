import type { Area } from "@/core/where/schema";
import type { Light } from "../../engine/questions";
import { Swatch } from "../../shared/colour-disc";
import { PickButton } from "../fields/pick-button";

/** The colour of light an area is keyed on: picked from the picture. */
export function PickedColour({
  entry,
  before,
  onColour,
}: {
  entry: Extract<Area, { kind: "key" }>;
  /** The element whose area it is: light is picked as it comes to it. */
  before: string | null;
  onColour(colour: Light | undefined): void;
}) {
  return (
    <div className="flex items-center gap-1">
      <PickButton label="Pick a colour" id={entry.id} before={before} take={(light) => onColour(light)} />
      {entry.colour && (
        <>
          <Swatch colour={entry.colour} label="The picked colour" />
          <button type="button" className="btn btn-xs" onClick={() => onColour(undefined)}>
            Any colour
          </button>
        </>
      )}
    </div>
  );
}
