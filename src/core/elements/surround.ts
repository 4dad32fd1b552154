import type { Parameter } from "./definition";

/** What lies outside the frame, for elements that spread light: asked for by several of them. */
export const surroundParameter = <D extends "extend" | "black">(usual: D, group?: string) =>
  ({
    type: "choice",
    group,
    label: "Outside the frame",
    options: { extend: "Mirrored", black: "Black" },
    default: usual,
    help: "What light is assumed to lie outside the frame.",
  }) as const satisfies Parameter;
