/** Who packs the chunks of a file. */
import { setImmediate } from "node:timers/promises";
import { pack, type WrittenCompression } from "./compression";
import type { Channel } from "./header";
import type { Rows } from "./lines";

export interface PackOrder {
  compression: WrittenCompression;
  rows: Rows;
  channels: Channel[];
}

export type Pack = (order: PackOrder) => Promise<Buffer>;

export interface Packing {
  /** How many chunks of a picture of so many pixels are packed at once. */
  atOnce(pixels: number): number;
  pack: Pack;
}

/** On this thread; others on it have their turn between chunks. */
const packHere: Pack = async ({ compression, rows, channels }) => {
  await setImmediate();
  return pack(compression, rows, channels);
};

let others: Packing | null = null;

/** From now on chunks of files that this thread writes are packed by others, where these take several at once. */
export const packBy = (packing: Packing) => void (others = packing);

/** Packs the orders, in any order of time; gives what they became in their own. */
export async function packAll(orders: readonly PackOrder[], pixels: number): Promise<Buffer[]> {
  const atOnce = others?.atOnce(pixels) ?? 1;
  const pack = others && atOnce > 1 ? others.pack : packHere;
  const packed: Buffer[] = [];
  let next = 0;
  const packInTurn = async () => {
    for (let i = next++; i < orders.length; i = next++) packed[i] = await pack(orders[i]!);
  };
  await Promise.all(Array.from({ length: atOnce }, packInTurn));
  return packed;
}
