/** What of a picture's file does not go on into another: each in a few words, for a printed list. */
import { isCarried, isLayout } from "./exr/attributes";
import type { ImageInfo } from "./format";
import { formatOf } from "./formats";
import { depthChannelOf } from "./exr/layers";

export interface Carrying {
  /** The name of a file that is written. */
  output: string;
  /** What lies beyond the frame goes out. */
  keepsOverscan: boolean;
  /** Other layers go out. */
  keepsLayers: boolean;
  /** Layers are moved, which those of whole numbers cannot be. */
  movesLayers: boolean;
  /** Layers of whole numbers, by name. */
  wholeNumbers: readonly string[];
}

/** Where each format keeps what a header says. */
const KEEPS_TIME = ["OpenEXR", "DPX"];
const KEEPS_RATE = ["OpenEXR", "DPX", "Y4M"];
const KEEPS_ASPECT = ["OpenEXR", "DPX"];

function layersLost(info: ImageInfo, { keepsLayers, movesLayers, wholeNumbers }: Carrying, isExr: boolean): string[] {
  // Only OpenEXR has channels beside the picture's own.
  if (!info.attributes) return [];
  const depth = depthChannelOf(info.channels.map((name) => ({ name })));
  const bare = info.channels.filter((name) => !["R", "G", "B", "A", "Y", depth].includes(name));
  const others = isExr && keepsLayers ? (movesLayers ? wholeNumbers : []) : bare;
  const parts = (info.parts ?? []).slice(1).map(({ name }) => name);
  return [
    ...(others.length ? [`layers ${others.join(", ")}`] : []),
    ...(parts.length ? [`parts ${parts.join(", ")}`] : []),
  ];
}

/** Everything that is lost, in the order of what hurts most; empty where all goes on. */
export function lossesOf(info: ImageInfo, carrying: Carrying): string[] {
  const format = formatOf(carrying.output)!.name;
  const isExr = format === "OpenEXR";
  const { dataWindow: data, displayWindow: shown, attributes = [] } = info;
  const isBeyond =
    data &&
    shown &&
    (data.left < shown.left || data.top < shown.top || data.right > shown.right || data.bottom > shown.bottom);
  const fields = attributes
    .filter(({ name }) => !isLayout(name))
    .filter(({ name }) => (isExr ? !isCarried(name) && !SAID.has(name) : !SAID.has(name)))
    .map(({ name }) => name);
  return [
    ...layersLost(info, carrying, isExr),
    ...(!isExr && info.depthChannel ? [`depth (${info.depthChannel})`] : []),
    ...(isBeyond && !(isExr && carrying.keepsOverscan) ? ["light beyond the frame"] : []),
    ...(info.channels.some((name) => /(^|\.)A$/.test(name)) && formatOf(carrying.output)!.alpha === "none"
      ? ["alpha"]
      : []),
    ...(info.timeCode && !KEEPS_TIME.includes(format) ? [`time code ${info.timeCode}`] : []),
    ...(info.framesPerSecond && !KEEPS_RATE.includes(format) ? ["frame rate"] : []),
    ...(info.pixelAspect && info.pixelAspect !== 1 && !KEEPS_ASPECT.includes(format)
      ? [`pixel aspect ${Number(info.pixelAspect.toFixed(4))}`]
      : []),
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
  "screenWindowCenter",
  "screenWindowWidth",
  "Software",
  "timeCode",
]);
