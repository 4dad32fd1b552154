import { definitionOf } from "@/core/elements/registry";

/** Section drawings of the pieces of glass on the light path. Each fills from the axis outwards with its strength. */
const HEIGHT = 64;
const WIDTH = 40;

export function Glass({ kind, strength, on }: { kind: string; strength: number; on: boolean }) {
  const { outline, detail } = definitionOf(kind).drawing;
  const fill = on ? Math.min(1, strength / 2) : 0;
  const id = `fill-${kind}-${Math.round(fill * 100)}`;
  const half = (HEIGHT / 2) * fill;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width={WIDTH} height={HEIGHT} aria-hidden>
      <clipPath id={id}>
        <rect x="0" y={HEIGHT / 2 - half} width={WIDTH} height={half * 2} />
      </clipPath>
      <path
        d={outline}
        fill="#1b1b1b"
        stroke={on ? "#d8d8d8" : "#8a8a8a"}
        strokeWidth="1.2"
        strokeDasharray={on ? undefined : "3 3"}
        strokeLinejoin="round"
      />
      <path d={outline} fill="#cfcfcf" fillOpacity="0.55" clipPath={`url(#${id})`} />
      {detail && (
        <path d={detail} fill="none" stroke={on ? "#9a9a9a" : "#5a5a5a"} strokeWidth="1" strokeLinecap="round" />
      )}
    </svg>
  );
}

/** What stands at the ends of the path. */
export function Scene() {
  return (
    <svg viewBox="0 0 46 64" width="46" height="64" aria-hidden fill="none" stroke="#a8a8a8" strokeWidth="1.1">
      <path d="M2 56H44M6 56V40L14 30L22 40V56M28 56L35 26L42 56" strokeLinejoin="round" />
      <circle cx="32" cy="14" r="3.2" fill="#fff3dc" stroke="none" />
      <circle cx="32" cy="14" r="6.5" stroke="#fff3dc" strokeOpacity=".35" />
    </svg>
  );
}

export function Screen() {
  return (
    <svg viewBox="0 0 40 64" width="40" height="64" aria-hidden fill="none" stroke="#a8a8a8" strokeWidth="1.1">
      <path d="M10 12L32 6V58L10 52Z" strokeLinejoin="round" />
    </svg>
  );
}

/** A lens in its barrel: groups of glass between two walls, as many as there is room for. */
export function BarrelDrawing({ count, on }: { count: number; on: boolean }) {
  const groups = Math.min(count, MAX_GROUPS);
  const stroke = on ? "#d8d8d8" : "#8a8a8a";
  return (
    <svg viewBox="0 0 92 64" width="92" height="64" aria-hidden fill="none" stroke={stroke} strokeWidth="1.2">
      <path d="M4 4H88V12H4ZM4 52H88V60H4Z" fill="#242424" strokeLinejoin="round" />
      <path d="M20 4V12M32 4V12M60 4V12M72 4V12M20 52V60M32 52V60M60 52V60M72 52V60" strokeWidth="0.8" />
      {Array.from({ length: groups }, (_, i) => {
        const x = 12 + (68 * i) / Math.max(1, groups - 1);
        const bulge = i % 2 ? -3.5 : 3.5;
        return (
          <path
            key={i}
            d={`M${x - 3} 13Q${x - 3 - bulge} 32 ${x - 3} 51H${x + 3}Q${x + 3 + bulge} 32 ${x + 3} 13Z`}
            fill={on ? "#cfcfcf" : "#1b1b1b"}
            fillOpacity={on ? 0.45 : 1}
            strokeLinejoin="round"
          />
        );
      })}
    </svg>
  );
}

/** More would not be told apart. */
const MAX_GROUPS = 6;
