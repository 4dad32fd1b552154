import { SCALES } from "@/core/compile/outputs/scopes";
import { BT1886, GAMMA26, SRGB } from "@/core/colour/transfer/display";
import type { Display } from "@/core/view/view";
import type { ShownScale } from "../view/scopes";

/** A line of a scale: where it stands, 0 to 1, and what it says. */
export interface Mark {
  at: number;
  text: string;
}

const PERCENT = [0, 25, 50, 75, 100];
const STOPS = [-10, -8, -6, -4, -2, 0, 2, 4, 6, 8];
/** cd/m², of a display whose white is at 100. */
const NITS = [0, 1, 5, 10, 20, 50, 100];
const WHITE_NITS = 100;
const TRANSFERS = { srgb: SRGB, bt1886: BT1886, "p3-d65": GAMMA26 } as const satisfies Record<Display, unknown>;

/** The lines of a scale; nits stand where a display makes them of the signal. */
export function marksOf(scale: ShownScale, display: Display): Mark[] {
  switch (scale) {
    case "code":
      return PERCENT.map((percent) => ({ at: percent / 100, text: String(percent) }));
    case "stops": {
      const { from, to } = SCALES.stops;
      return STOPS.map((stops) => ({
        at: (stops - from) / (to - from),
        text: stops > 0 ? `+${stops}` : String(stops),
      }));
    }
    case "nits":
      return NITS.map((nits) => ({ at: TRANSFERS[display].toCode(nits / WHITE_NITS), text: String(nits) }));
  }
}
