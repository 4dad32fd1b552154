import type { Layer } from "../format";
import type { Channel, PartHeader } from "./header";

/** Where a channel goes: a colour (0 to 3), light for all three, depth along the axis, a layer's own plane, or nowhere. */
export type ChannelSlot = 0 | 1 | 2 | 3 | "grey" | "depth" | Layer | null;

/** Samples of layers that are read at once, at most: 2 GiB of them. */
const MAX_LAYER_SAMPLES = 2 ** 29;

/**
 * Planes for the channels of parts that no slot takes; those of parts behind the first bear their part's name. Throws
 * RangeError where they are too much.
 */
export function layersBeside(parts: readonly [PartHeader, readonly ChannelSlot[]][], pixels: number): Layer[] {
  const beside = parts.flatMap(([{ name: part, channels }, slots], i) =>
    channels.filter((_, c) => slots[c] === null).map((channel) => ({ ...channel, ...(i ? { part } : {}) })),
  );
  if (beside.length * pixels > MAX_LAYER_SAMPLES)
    throw new RangeError(
      `has ${beside.length} further channels, too many to be read at once; leave them with layers drop`,
    );
  return beside.map(({ name, type, part }) => ({
    name,
    type,
    ...(part === undefined ? {} : { part }),
    data: type === "uint" ? new Uint32Array(pixels) : new Float32Array(pixels),
  }));
}

const layerOf = (name: string) => name.slice(0, name.lastIndexOf(".") + 1);
const DEPTH_NAMES = ["Z", "depth.Z", "depth", "depth.R"];

/** Layers of a part that make a picture: those with an R or a Y. The bare one is "". */
export function layersOf({ channels }: PartHeader): string[] {
  const layers = new Set(
    channels
      .filter(({ name }) => /^(R|Y)$/.test(name.slice(layerOf(name).length)))
      .map(({ name }) => layerOf(name).slice(0, -1)),
  );
  return [...layers].sort((a, b) => (a === "" ? -1 : b === "" ? 1 : a < b ? -1 : 1));
}

/** Whether a channel is one of a vector's, as a normal's: its layer has an X or a Y, too. */
const isOfVector = (name: string, channels: Pick<Channel, "name">[]) =>
  channels.some(
    (other) => /^[XYxy]$/.test(other.name.slice(layerOf(name).length)) && layerOf(other.name) === layerOf(name),
  );

/** The depth channel taken unless another is named: Z, or one called depth. */
export const depthChannelOf = (channels: Pick<Channel, "name">[], named?: string): string | undefined =>
  named ??
  DEPTH_NAMES.find((name) => channels.some((channel) => channel.name === name)) ??
  channels.find(({ name }) => name.endsWith(".Z") && !isOfVector(name, channels))?.name;

/** What each channel of a part is taken for. */
export function slotsOf(part: PartHeader, layer: string, depthChannel: string | undefined): ChannelSlot[] {
  const prefix = layer ? `${layer}.` : "";
  const grey = !part.channels.some(({ name }) => name === `${prefix}R`);
  return part.channels.map(({ name }): ChannelSlot => {
    if (name === depthChannel) return "depth";
    if (layerOf(name) !== prefix) return null;
    const bare = name.slice(prefix.length);
    if (grey && bare === "Y") return "grey";
    const index = ["R", "G", "B", "A"].indexOf(bare);
    return index < 0 || (grey && index < 3) ? null : (index as ChannelSlot);
  });
}
