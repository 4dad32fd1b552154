import type { Passage } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";

/** Rays of a drawing: where they enter, and the middle of the glass. Box of 200 by 80. */
const HEIGHTS = [20, 40, 60] as const;
const [ENTRY, EXIT, END] = [84, 116, 196];
const MIDDLE = 40;
const WARM = "#fff3dc";

interface Ray {
  path: string;
  colour?: string;
  opacity?: number;
  dashes?: string;
}

const on = (y: number, to = y, more: Partial<Ray> = {}): Ray => ({ path: `M${EXIT} ${y}L${END} ${to}`, ...more });
const CHANNEL_COLOURS = ["#ff8d7a", "#8fd694", "#8fb4ff"] as const;

/** What becomes of a ray that enters at a height. */
const LEAVES: Record<Passage, (y: number) => Ray[]> = {
  scatters: (y) => [on(y), ...[-16, -8, 8, 16].map((by) => on(y, y + by, { opacity: 0.4 }))],
  adds: (y) => [on(y), on(y + 10, y + 4, { opacity: 0.55 })],
  mirrors: (y) => [
    on(y),
    { path: `M${EXIT} ${y}L${ENTRY} ${2 * MIDDLE - y}L${END} ${2 * MIDDLE - y + (y - MIDDLE) / 2}`, opacity: 0.45 },
  ],
  blurs: (y) => [on(y, MIDDLE + (MIDDLE - y) * 0.35)],
  bends: (y) => [on(y, MIDDLE + (y - MIDDLE) * 0.7)],
  splits: (y) => CHANNEL_COLOURS.map((colour, c) => on(y, y + (c - 1) * (y === MIDDLE ? 0 : 5), { colour })),
  dims: (y) => [on(y, y, { opacity: y === MIDDLE ? 1 : 0.35 })],
  tints: (y) => [on(y, y, { colour: "#e0b98a" })],
  returns: (y) => [
    on(y),
    { path: `M${EXIT + 14} ${y}L${EXIT} ${y - 9}L${END} ${y - 14}`, colour: "#ff8d7a", opacity: 0.7 },
  ],
  grains: (y) => [on(y, y, { dashes: "2 3" })],
};

/** A piece of glass with light passing through it, from the scene on the left. */
export function PassageDrawing({ kind }: { kind: string }) {
  const { drawing, passes, label } = definitionOf(kind);
  return (
    <svg viewBox="0 0 200 80" className="h-20 w-full" role="img" aria-label={`Light passing ${label}`} fill="none">
      {HEIGHTS.map((y) => (
        <g key={y} strokeWidth="1.1" strokeLinecap="round">
          <path d={`M4 ${y}H${ENTRY}`} stroke={WARM} />
          {LEAVES[passes](y).map(({ path, colour = WARM, opacity = 1, dashes }) => (
            <path key={path} d={path} stroke={colour} strokeOpacity={opacity} strokeDasharray={dashes} />
          ))}
        </g>
      ))}
      <g transform="translate(80 8)">
        <path d={drawing.outline} fill="#2c2c2c" stroke="#d8d8d8" strokeWidth="1.2" strokeLinejoin="round" />
        {drawing.detail && <path d={drawing.detail} stroke="#9a9a9a" strokeLinecap="round" />}
      </g>
    </svg>
  );
}
