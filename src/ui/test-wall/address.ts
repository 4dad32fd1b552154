import { type Axis, axisSchema } from "@/core/wall/axis";
import { axisIn, axisText } from "@/core/wall/axis-text";

/** What a wall is of, as the address holds it. */
export interface WallAddress {
  shot: string | null;
  frame: number | null;
  /** Undefined: nothing is said, and it is as at first; null: nothing changes along it. */
  across: Axis | null | undefined;
  down: Axis | null | undefined;
}

const NOTHING = "-";

function axisOf(text: string | null): Axis | null | undefined {
  if (text === null) return undefined;
  if (text === NOTHING) return null;
  try {
    return axisSchema.parse(axisIn(text));
  } catch {
    return undefined;
  }
}

export function readAddress(query: URLSearchParams): WallAddress {
  const frame = query.get("frame");
  return {
    shot: query.get("shot"),
    frame: frame !== null && Number.isInteger(Number(frame)) ? Number(frame) : null,
    across: axisOf(query.get("across")),
    down: axisOf(query.get("down")),
  };
}

export function writeAddress(shot: string, frame: number, across: Axis | null, down: Axis | null): string {
  const text = (axis: Axis | null) => (axis ? axisText(axis) : NOTHING);
  return String(new URLSearchParams({ shot, frame: String(frame), across: text(across), down: text(down) }));
}
