/** What of a picture's file does not go on into another: each in a few words, for a printed list. */
import { type Overscan, wholeOverscan } from "../core/image/overscan";
import { isCarried, isLayout } from "./exr/attributes";
import type { ImageInfo } from "./format";
import { describedFormat } from "./formats";
import { MOVIE_CONTAINERS } from "./movies";

export interface Carrying {
  /** The name of a file that is written. */
  output: string;
  /** What goes out of the light beyond the frame, px on each side. */
  overscan: Overscan;
  /** Names of the other layers that go out. */
  layers: readonly string[];
}

/** Where each format keeps what a header says. */
const MOVIES = MOVIE_CONTAINERS.map(({ name }) => name);
const KEEPS_TIME = ["OpenEXR", "DPX", ...MOVIES];
const KEEPS_RATE = ["OpenEXR", "DPX", "Y4M", ...MOVIES];
const moviesThat = (keep: "keepsAspect" | "keepsReel") =>
  MOVIE_CONTAINERS.filter((container) => container[keep]).map(({ name }) => name);
const KEEPS_ASPECT = ["OpenEXR", "DPX", "Y4M", ...moviesThat("keepsAspect")];
const KEEPS_REEL = ["OpenEXR", ...moviesThat("keepsReel")];

/** The picture's own channels, which are written under their bare names. */
const ownChannels = ({ channels, chosen, depthChannel }: ImageInfo): string[] => {
  const prefix = chosen?.layer ? `${chosen.layer}.` : "";
  return channels.filter(
    (name) => name === depthChannel || ["R", "G", "B", "A", "Y"].some((one) => name === prefix + one),
  );
};

function layersLost(info: ImageInfo, { layers }: Carrying): string[] {
  // Only OpenEXR has channels beside the picture's own.
  if (!info.chosen) return [];
  const own = ownChannels(info);
  const left = info.channels.filter((name) => !own.includes(name) && !layers.includes(name));
  const parts = (info.parts ?? []).map(({ name }) => name).filter((name) => name !== info.chosen!.part);
  return [
    ...(left.length ? [`layers ${left.join(", ")}`] : []),
    ...(parts.length ? [`parts ${parts.join(", ")}`] : []),
  ];
}

/** Light beyond the frame that stays behind. */
function beyondLost({ dataWindow, displayWindow }: ImageInfo, { overscan: kept }: Carrying): string[] {
  const has = dataWindow && displayWindow ? wholeOverscan(dataWindow, displayWindow) : null;
  if (!has || (["left", "top", "right", "bottom"] as const).every((side) => kept[side] >= has[side])) return [];
  const most = Math.max(...Object.values(kept));
  return [most ? `light more than ${most} px beyond the frame` : "light beyond the frame"];
}

/** Everything that is lost, in the order of what hurts most; empty where all goes on. */
export function lossesOf(info: ImageInfo, carrying: Carrying): string[] {
  const { name: format, alpha } = describedFormat(carrying.output)!;
  const isExr = format === "OpenEXR";
  const { attributes = [], timeCode, framesPerSecond, pixelAspect = 1 } = info;
  const fields = attributes
    .map(({ name }) => name)
    .filter((name) => !isLayout(name) && !SAID.has(name) && !(isExr && isCarried(name)));
  const hasAlpha = ownChannels(info).some((name) => /(^|\.)A$/.test(name));
  return [
    ...layersLost(info, carrying),
    ...(!isExr && info.depthChannel ? [`depth (${info.depthChannel})`] : []),
    ...beyondLost(info, carrying),
    ...(hasAlpha && alpha === "none" ? ["alpha"] : []),
    ...(timeCode && !KEEPS_TIME.includes(format) ? [`time code ${timeCode}`] : []),
    ...(info.reel && !KEEPS_REEL.includes(format) ? [`reel ${info.reel}`] : []),
    ...(framesPerSecond && !KEEPS_RATE.includes(format) ? ["frame rate"] : []),
    ...(pixelAspect !== 1 && !KEEPS_ASPECT.includes(format) ? [`pixel aspect ${Number(pixelAspect.toFixed(4))}`] : []),
    ...(info.dpxHeader && format !== "DPX" ? ["film, television and user fields of the header"] : []),
    ...(fields.length ? [`fields ${fields.join(", ")}`] : []),
  ];
}

/** Fields whose content is told of by themselves, or is of the file alone. */
const SAID = new Set([
  "chromaticities",
  "framesPerSecond",
  "haloRecipe",
  "haloRecipeTerms",
  "pixelAspectRatio",
  "reelName",
  "screenWindowCenter",
  "screenWindowWidth",
  "Software",
  "timeCode",
]);
