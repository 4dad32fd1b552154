import type { Delivery } from "../../contract/deliveries";
import { RENDER_FORMATS, RENDER_MOVIES } from "../../contract/renders";

/** Everything that can be ordered, by the name it is offered under. */
export const ALL_FORMATS = { ...RENDER_FORMATS, ...RENDER_MOVIES };
export type FormatName = keyof typeof ALL_FORMATS;
export const namesOf = (formats: object) => Object.keys(formats) as FormatName[];

export const isExr = (format: FormatName): boolean => ALL_FORMATS[format].format === "exr";
/** Whether all frames lie in one file. */
export const isOneFile = (format: FormatName): boolean =>
  format in RENDER_MOVIES || ALL_FORMATS[format].format === "y4m";

export const FIRST_DELIVERY: Delivery = {
  formats: ["EXR half, ZIP"],
  encoding: null,
  slate: null,
  besides: [],
  into: null,
  handles: 0,
  only: null,
  naming: "{shot}_{version}.{frame}",
};
