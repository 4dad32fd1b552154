import type { Station } from "@/core/elements/definition";

/** Section drawings of the pieces of glass on the light path. Each fills from the axis outwards with its strength. */
const HEIGHT = 64;
const WIDTH = 40;

const OUTLINES: Record<string, string> = {
  diffusion: "M16 4 H24 V60 H16 Z",
  glow: "M14 4 H26 V60 H14 Z",
  streak: "M13 6 C20 6 20 58 13 58 L27 58 C27 58 27 6 27 6 Z",
  distortion: "M20 4 C31 18 31 46 20 60 C9 46 9 18 20 4 Z",
  lateralColour: "M14 4 H27 C19 20 19 44 27 60 H14 Z",
  illumination: "M12 4 C22 18 22 46 12 60 H28 C34 46 34 18 28 4 Z",
  vignette: "M9 4 H31 V17 H25 V47 H31 V60 H9 V47 H15 V17 H9 Z",
  transmission: "M12 6 C16 20 16 44 12 58 H24 C31 44 31 20 24 6 Z",
  grain: "M17 2 H23 V62 H17 Z",
  trim: "M11 8 H29 V56 H11 Z",
  fog: "M13 4 H27 V60 H13 Z",
  net: "M17 4 H23 V60 H17 Z",
  star: "M14 4 H26 V60 H14 Z",
  shafts: "M10 4 L30 12 V52 L10 60 Z",
  dirt: "M15 4 H25 V60 H15 Z",
  veil: "M12 5 C18 18 18 46 12 59 H28 C22 46 22 18 28 5 Z",
  ghosts: "M10 7 C20 18 20 46 10 57 H16 C26 46 26 18 16 7 Z M24 10 C32 20 32 44 24 54 H29 C37 44 37 20 29 10 Z",
  defocus: "M20 5 C33 16 33 48 20 59 C7 48 7 16 20 5 Z",
  swirl: "M13 6 C23 16 23 30 17 32 C11 34 13 50 20 58 H29 C35 46 35 18 27 6 Z",
  axialColour: "M12 5 H28 C21 18 21 46 28 59 H12 C19 46 19 18 12 5 Z",
  sharpness: "M13 5 C27 15 27 49 13 59 H19 C33 49 33 15 19 5 Z",
  edgeSoftness: "M18 5 C30 17 30 47 18 59 C14 47 14 17 18 5 Z",
  halation: "M14 2 H26 V62 H14 Z",
  flicker: "M13 4 H27 V60 H13 Z",
  channelLag: "M9 4 H14 V60 H9 Z M18 4 H23 V60 H18 Z M27 4 H32 V60 H27 Z",
  curves: "M11 8 H29 V56 H11 Z",
  tone: "M11 8 H29 V56 H11 Z",
  sharpen: "M11 8 H29 V56 H11 Z",
};

const DETAILS: Record<string, string> = {
  diffusion: "M18.5 10v3M21.5 17v3M18.5 25v3M21.5 33v3M18.5 41v3M21.5 49v3",
  glow: "M20 12v40M17 20v24M23 20v24",
  streak: "M4 32H36",
  distortion: "M20 12C25 22 25 42 20 52",
  lateralColour: "M30 22L37 20M30 42L37 44",
  transmission: "M19 14C22 24 22 40 19 50",
  grain: "M18 6h4M18 12h4M18 18h4M18 24h4M18 30h4M18 36h4M18 42h4M18 48h4M18 54h4",
  trim: "M15 46L25 18",
  fog: "M16 14h8M15 22h10M16 30h8M15 38h10M16 46h8",
  net: "M17 8L23 14M23 8L17 14M17 20L23 26M23 20L17 26M17 32L23 38M23 32L17 38M17 44L23 50M23 44L17 50",
  star: "M20 20V44M9 32H31M13 25L27 39M27 25L13 39",
  shafts: "M34 18L38 16M34 32H39M34 46L38 48",
  dirt: "M18 12h1M22 19h1M17.5 28h1.5M21.5 36h1M18 44h1M22 52h1",
  veil: "M20 16V48",
  defocus: "M14 32a6 6 0 1 0 12 0a6 6 0 1 0-12 0",
  swirl: "M24 22C29 27 29 37 24 42",
  axialColour: "M29 28L38 32M29 36L38 32M29 24L34 32",
  sharpness: "M28 24V40M31 26V38M34 28V36",
  edgeSoftness: "M22 10v5M25 18v3M25 43v3M22 49v5",
  halation: "M23 5V59M17 32a3 3 0 1 0 6 0a3 3 0 1 0-6 0",
  flicker: "M16 40L19 24L21 36L24 20",
  curves: "M14 50C22 48 18 18 26 14",
  tone: "M14 46H18V38H22V28H26V18",
  sharpen: "M15 44H19L20 48L21 16L22 20H26",
};

export function Glass({ kind, strength, on }: { kind: string; strength: number; on: boolean }) {
  const outline = OUTLINES[kind] ?? "M15 4 H25 V60 H15 Z";
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
      {DETAILS[kind] && (
        <path d={DETAILS[kind]} fill="none" stroke={on ? "#9a9a9a" : "#5a5a5a"} strokeWidth="1" strokeLinecap="round" />
      )}
    </svg>
  );
}

export const STATION_LABELS: Record<Station, string> = {
  front: "Matte box",
  lens: "Lens",
  film: "Film",
  print: "Print",
};

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
