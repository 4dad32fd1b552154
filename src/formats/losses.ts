/** What of a picture's file does not go on into another: each in a few words, for a printed list. */
import { type Overscan, wholeOverscan } from "../core/image/overscan";
import { isCarried, isLayout } from "./exr/attributes";
import type { ImageInfo, Layer } from "./format";
import { describedFormat } from "./formats";
import { MOVIE_CONTAINERS } from "./movies";
import { NOTE_FIELDS, NOTE_NAMES, otherText } from "./notes";

export interface Carrying {
  /** The name of a file that is written. */
  output: string;
  /** What goes out of the light beyond the frame, px on each side. */
  overscan: Overscan;
  /** The other layers that go out. */
  layers: readonly Pick<Layer, "name" | "part">[];
}

/** Where each format keeps what a header says. */
const MOVIES = MOVIE_CONTAINERS.map(({ name }) => name);
const KEEPS_TIME = ["OpenEXR", "DPX", ...MOVIES];
const KEEPS_RATE = ["OpenEXR", "DPX", "Y4M", ...MOVIES];
const moviesThat = (keep: "keepsAspect" | "keepsReel") =>
  MOVIE_CONTAINERS.filter((container) => container[keep]).map(({ name }) => name);
const KEEPS_ASPECT = ["OpenEXR", "DPX", "Y4M", "PNG", "TIFF", "JPEG", ...moviesThat("keepsAspect")];
const KEEPS_REEL = ["OpenEXR", ...moviesThat("keepsReel")];

const KEEPS_NOTES = ["OpenEXR", "PNG", "TIFF"];

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
  const goesOut = (name: string, part?: string) => layers.some((layer) => layer.name === name && layer.part === part);
  const left = info.channels.filter((name) => !own.includes(name) && !goesOut(name));
  const parts = (info.parts ?? [])
    .filter(({ name }) => name !== info.chosen!.part)
    .filter(({ name, channels }) => !channels.every((channel) => goesOut(channel, name)))
    .map(({ name }) => name);
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

/** Text fields of a file that go on into another: OpenEXR has room for any, PNG for its own. */
export function textCarried(from: string, to: string, text: Record<string, string>): Record<string, string> {
  const [source, target] = [describedFormat(from)?.name, describedFormat(to)?.name];
  if (source === "OpenEXR") return target === "OpenEXR" ? text : {};
  if (source !== "PNG") return {};
  return target === "OpenEXR" || target === "PNG" ? otherText(text, NOTE_FIELDS.PNG) : {};
}

/** Everything that is lost, in the order of what hurts most; empty where all goes on. */
export function lossesOf(info: ImageInfo, carrying: Carrying): string[] {
  const { name: format, alpha } = describedFormat(carrying.output)!;
  const isExr = format === "OpenEXR";
  const { attributes = [], timeCode, framesPerSecond, pixelAspect = 1 } = info;
  const keepsNotes = KEEPS_NOTES.includes(format);
  const noteFields: string[] = Object.values(NOTE_FIELDS.OpenEXR);
  const fields = attributes
    .map(({ name }) => name)
    .filter((name) => !isLayout(name) && !SAID.has(name) && !(isExr && isCarried(name)))
    .filter((name) => !(keepsNotes && noteFields.includes(name)));
  // An OpenEXR's text is among its attributes, DPX's in its header; pictures that have notes have text of people's.
  const texts =
    info.chosen || !info.notes || isExr || format === "PNG" ? [] : Object.keys(otherText(info.text, NOTE_FIELDS.PNG));
  const notes = attributes.length || keepsNotes ? [] : NOTE_NAMES.filter((name) => info.notes?.[name]);
  const hasAlpha = ownChannels(info).some((name) => /(^|\.)A$/.test(name));
  return [
    ...layersLost(info, carrying),
    ...(!isExr && info.depthChannel ? [`depth (${info.depthChannel})`] : []),
    ...beyondLost(info, carrying),
    ...(hasAlpha && alpha === "none" ? ["alpha"] : []),
    ...(info.isInterlaced ? ["interlacing (each frame goes on as one picture)"] : []),
    ...(timeCode && !KEEPS_TIME.includes(format) ? [`time code ${timeCode}`] : []),
    ...(info.reel && !KEEPS_REEL.includes(format) ? [`reel ${info.reel}`] : []),
    ...(framesPerSecond && !KEEPS_RATE.includes(format) ? ["frame rate"] : []),
    ...(pixelAspect !== 1 && !KEEPS_ASPECT.includes(format) ? [`pixel aspect ${Number(pixelAspect.toFixed(4))}`] : []),
    ...(info.dpxHeader && format !== "DPX" ? ["film, television and user fields of the header"] : []),
    ...notes,
    ...(fields.length || texts.length ? [`fields ${[...fields, ...texts].join(", ")}`] : []),
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
