import type { Ranges } from "../../core/frame/ranges";

/** Footage whose frames are being made while the application runs. */
export interface Maker {
  /** Says that somebody waits for a frame: it is made next. Answers whether it will be there. */
  ask(frame: number): boolean;
  /** The frames that are there. */
  there(): Ranges;
  /** How much of the work is done, 0 to 1. */
  progress(): number;
}

/** Parts of the server are built apart and would each have a list of their own. */
const holder = globalThis as { paleHaloMakers?: Map<string, Maker> };
const makers = (holder.paleHaloMakers ??= new Map<string, Maker>());

/** Who makes some footage, or made it since the start, by its id. */
export const makerOf = (footageId: string): Maker | undefined => makers.get(footageId);

export const beginMaking = (footageId: string, maker: Maker): void => void makers.set(footageId, maker);
