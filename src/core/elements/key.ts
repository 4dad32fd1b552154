import type { Parameter, HighlightKey } from "./definition";
import { lightAt } from "../colour/grey";
import { LUMINANCE } from "../colour/primaries";
import { KEY, pack, type Values } from "../engine/records";

/** Heading the key's parameters stand under. */
const KEY_GROUP = "Which light";

/** How far the numbers of a key go, stops. */
export const KEY_STOPS = {
  threshold: { min: -8, max: 12 },
  knee: { min: 0, max: 6 },
  limit: { min: 0, max: 16 },
} as const;

/** The parameters of the highlight key, shared by every highlight-driven element. */
export const keyParameters = (threshold: number, relevantWith?: Parameter["relevantWith"]) =>
  ({
    channel: {
      type: "choice",
      group: KEY_GROUP,
      relevantWith,
      label: "Key on",
      help: "Which light the threshold is measured in. What is taken keeps its colour, unless each channel is judged by itself.",
      options: {
        luminance: "Luminance",
        maximum: "Brightest channel",
        each: "Each channel by itself",
        red: "Red",
        green: "Green",
        blue: "Blue",
      },
      default: "maximum",
    },
    threshold: {
      type: "number",
      group: KEY_GROUP,
      relevantWith,
      label: "Threshold",
      unit: "stops",
      ...KEY_STOPS.threshold,
      step: 0.1,
      default: threshold,
      help: "Where light begins to be taken, from mid-grey.",
    },
    knee: {
      type: "number",
      group: KEY_GROUP,
      relevantWith,
      label: "Knee",
      unit: "stops",
      ...KEY_STOPS.knee,
      step: 0.1,
      default: 1,
      help: "How softly the taking begins; a hard edge gives it away.",
    },
    limit: {
      type: "number",
      group: KEY_GROUP,
      relevantWith,
      label: "Upper limit",
      unit: "stops",
      ...KEY_STOPS.limit,
      step: 0.1,
      default: 12,
      help: "Light above this is taken as if it were this bright.",
    },
  }) satisfies Record<string, Parameter>;

export interface KeyValues {
  channel: HighlightKey["channel"];
  threshold: number;
  knee: number;
  limit: number;
}

export const keyOf = ({ channel, threshold, knee, limit }: KeyValues): HighlightKey => ({
  channel,
  threshold,
  knee,
  limit,
});

const WEIGHTS = {
  luminance: LUMINANCE,
  maximum: [1, 1, 1],
  each: [1, 1, 1],
  red: [1, 0, 0],
  green: [0, 1, 0],
  blue: [0, 0, 1],
} as const;

/** How the weighed channels are judged: by their sum unless it stands here. */
const JUDGED: Partial<Record<HighlightKey["channel"], "maximum" | "each">> = { maximum: "maximum", each: "each" };

/** Smallest ratio of the knee's ends, so that a knee of 0 stops is still a division. */
const MIN_KNEE = 1e-3;

/** What the kernels read of a key. The knee is centred on the threshold in stops and quadratic in light within it. */
export function keyFields(key: HighlightKey): Values<typeof KEY> {
  const half = Math.max(key.knee, MIN_KNEE) / 2;
  const low = lightAt(key.threshold - half);
  const high = lightAt(key.threshold + half);
  return {
    weights: WEIGHTS[key.channel],
    judged: JUDGED[key.channel] ?? "sum",
    low,
    high,
    middle: (low + high) / 2,
    limit: Math.max(lightAt(key.limit), high),
  };
}

/** A key as a table of a plan. */
export const keyRecord = (key: HighlightKey): Uint8Array => pack(KEY, keyFields(key));

/** The light taken from a neutral of this light; what the kernel computes, for plots and tests. */
export function takenLight(key: HighlightKey, light: number): number {
  const { low, high, middle, limit } = keyFields(key);
  const clamped = Math.min(light, limit);
  if (clamped >= high) return clamped - middle;
  return Math.max(clamped - low, 0) ** 2 / (2 * (high - low));
}
