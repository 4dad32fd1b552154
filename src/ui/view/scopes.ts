import { type ScopeArea, type ScopeScale } from "@/core/compile/outputs/scopes";

/** The scopes there are, in the order in which they stand. */
export const SCOPES = {
  waveform: "Waveform",
  parade: "Parade",
  vectors: "Vectorscope",
  histogram: "Histogram",
  ramp: "Ramp",
} as const;
export type ScopeName = keyof typeof SCOPES;

/** What a scale's numbers mean; nits are those of a display whose white is at 100. */
export const SCALE_NAMES = { code: "% of signal", stops: "Stops", nits: "Nits" } as const;
export type ShownScale = keyof typeof SCALE_NAMES;

/** What is counted for a scale: nits are a signal's, told otherwise. */
export const countedScale = (scale: ShownScale): ScopeScale => (scale === "stops" ? "stops" : "code");

/** The scopes beside the picture. */
export interface Scopes {
  open: boolean;
  shown: readonly ScopeName[];
  scale: ShownScale;
  /** Whether the waveform is of luma, or of the channels over one another. */
  luma: boolean;
  /** What is counted: a part of the frame, all of it (null), or a part that is about to be drawn. */
  part: ScopeArea | "draw" | null;
  /** What the picture is compared with is laid over it, faintly. */
  withReference: boolean;
}

export const CLOSED_SCOPES: Scopes = {
  open: false,
  shown: ["waveform", "vectors", "histogram"],
  scale: "code",
  luma: false,
  part: null,
  withReference: false,
};

/** One scope shown or hidden; they keep their order. */
export const toggledScope = (scopes: Scopes, name: ScopeName): Scopes => ({
  ...scopes,
  shown: (Object.keys(SCOPES) as ScopeName[]).filter((entry) => scopes.shown.includes(entry) !== (entry === name)),
});
