"use client";
import { createContext, useContext } from "react";
import { firstOf, lastOf } from "@/core/frame/ranges";
import { type LookAtFrame, lookAt, valueAtFrame } from "@/core/look/at-frame";
import type { Path } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import type { Cabinet } from "@/core/profile/profiles";
import type { ShotDetail } from "../../contract/shots";

/** The look on the Bench, on its shot: what everything beside the picture works with. */
export interface ShownLook {
  shot: ShotDetail;
  look: Look;
  /** As it is at the frame that is shown. */
  at: LookAtFrame;
  cabinet: Cabinet;
}

const Shown = createContext<ShownLook | null>(null);
export const ShownLookProvider = Shown.Provider;

export function useShownLook(): ShownLook {
  const shown = useContext(Shown);
  if (!shown) throw new Error("There is no look on the Bench");
  return shown;
}

/** A look at any frame of its shot. */
export function lookAtFrame({ shot, look, cabinet }: Omit<ShownLook, "at">, frame: number): LookAtFrame {
  const { footage, frames, hasDepth, frameRate } = shot;
  return lookAt(look, cabinet, {
    ...footage,
    frame,
    hasDepth,
    frameRate,
    shot: { first: firstOf(frames), last: lastOf(frames) },
  });
}

export const valueIn = (shown: Omit<ShownLook, "at">, path: Path, frame: number): unknown =>
  valueAtFrame(lookAtFrame(shown, frame), path);
