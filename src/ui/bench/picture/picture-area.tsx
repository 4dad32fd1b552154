"use client";
import { useState } from "react";
import type { LookAtFrame } from "@/core/look/at-frame";
import { upTo } from "@/core/look/excerpt";
import type { Look } from "@/core/look/look";
import { type Others, referenceName } from "../../compare/compare";
import { type WipeProps, WipeEdge, wipeTool } from "../../compare/wipe";
import { useChannel } from "../../engine/engine";
import { type Light } from "../../engine/questions";
import { PRIORITY } from "../../engine/questions";
import { OwnLayer, ReferenceLayer } from "./layers";
import type { Pictures } from "./use-pictures";
import { enoughFor } from "../../pictures/scheduler";
import { signedStops } from "../../view/exposure";
import { Handles } from "../../viewport/handles/handles";
import { type Looking, type ViewTransform, type Spot, WHOLE } from "../../viewport/place";
import { codeAt, pixelAt, type Reading, readingText } from "../../viewport/reading";
import { type Sight, type Tool, Viewport } from "../../viewport/viewport";
import { PartFrame, partTool } from "../../scopes/part";
import { handlesOf } from "./handles";
import { isThere, captionOf } from "../../view/inspect";
import { TrackBar } from "../track/track-bar";
import { regionTool, TrackOverlay } from "../track/track-overlay";
import { setView, useView, viewNow } from "../../view/store";
import type { Shown } from "../../pictures/use-picture";
import { useSource } from "../../pictures/use-source";
import type { ShotDetail } from "../../../contract/shots";

/** Light that may be picked: more than this is no colour of a surface or a lamp. */
const MAX_LIGHT = 1000;
const picked = (light: Light) => light.map((value) => Math.min(MAX_LIGHT, Math.max(0, value))) as Light;

/** What stands over the picture, to say what is seen. */
function Told({ children }: { children: React.ReactNode }) {
  return <p className="absolute top-2 left-2 rounded bg-black/60 px-2">{children}</p>;
}

/** Light under the cursor: read as the hand moves, and picked with a click. */
function useLight(shot: ShotDetail, look: Look, divide: number) {
  const reading = useChannel(PRIORITY.read);
  const picking = useChannel(PRIORITY.picked);
  const source = useSource(shot, look);
  const orderOf = (of: Look, at: Spot) => ({ ...source, look: of, frame: viewNow().frame, divide, ...at });
  return {
    read: (at: Spot, light: (light: Light) => void) => reading().ask("light", orderOf(look, at), light),
    /** Light as it comes to an element, or (null) as the path leaves it. */
    pick: (before: string | null, at: Spot, light: (light: Light) => void) =>
      picking().ask("light", orderOf(before === null ? look : upTo(look, before), at), light),
  };
}

/** What of the view is seen, in words; empty for the picture as it is. */
function useTold(look: Look, isDifference: boolean, name: string): string {
  const { preview, held, compare, inspect, selected, marked, alone } = useView(
    "preview",
    "held",
    "compare",
    "inspect",
    "selected",
    "marked",
    "alone",
  );
  if (preview) return preview.name;
  if (held) return sentence(name);
  if (isDifference) return `Difference from ${name}, ${compare.times} times, on mid-grey`;
  if (isThere(inspect, look, selected)) {
    const words = captionOf(inspect, 1 + marked.length);
    if (words) return words;
  }
  return alone && selected ? "This element alone" : "";
}

interface Props {
  shot: ShotDetail;
  look: Look;
  at: LookAtFrame;
  pictures: Pictures;
  others: Others;
}

/**
 * What takes the pointer over the picture, the first that wants it: picking, a region, a part for the scopes, the wipe.
 */
function useTools({ shot }: Props, pick: ReturnType<typeof useLight>["pick"], wiping: WipeProps | null) {
  const { picking, region, scopes } = useView("picking", "region", "scopes");
  const { footage } = shot;
  const picker: Tool = {
    press: (spot) => {
      const pixel = picking && pixelAt(spot, footage);
      if (!picking || !pixel) return null;
      pick(picking.before, pixel, (light) => {
        picking.take(picked(light), spot);
        setView({ picking: null });
      });
      return { move: () => {} };
    },
  };
  const drawsPart = scopes.open && scopes.part === "draw";
  const isDrawing = picking !== null || region !== null || drawsPart;
  return {
    isDrawing,
    tools: [
      picker,
      ...(region !== null ? [regionTool((drawn) => setView({ region: drawn }))] : []),
      ...(drawsPart ? [partTool(footage, (part) => setView({ scopes: { ...scopes, part } }))] : []),
      ...(wiping ? [wipeTool(wiping, footage)] : []),
    ],
  };
}

/** What is drawn over the picture, and dragged on it. */
function Overlays({ shot, at, placing }: { shot: ShotDetail; at: LookAtFrame; placing: ViewTransform }) {
  const { handles, playing, held, preview, picking, region, track, scopes, selected } = useView(
    "handles",
    "playing",
    "held",
    "preview",
    "picking",
    "region",
    "track",
    "scopes",
    "selected",
  );
  const { footage } = shot;
  const stretch = shot.desqueezed ? 1 : shot.squeeze;
  return (
    <>
      {handles && !playing && !held && !preview && !picking && !region && (
        <Handles handles={handlesOf(at, selected)} frame={footage} stretch={stretch} placing={placing} />
      )}
      {scopes.open && scopes.part && scopes.part !== "draw" && (
        <PartFrame part={scopes.part} frame={footage} placing={placing} />
      )}
      {(region || track) && !held && <TrackOverlay placing={placing} />}
    </>
  );
}

/** The picture: pan and zoom, a wipe, what is dragged on it, and the light under the cursor. */
export function PictureArea(props: Props) {
  const { shot, look, at, pictures, others } = props;
  const { shown, other, isDifference } = pictures;
  const { looking, held, compare, selected } = useView("looking", "held", "compare", "selected");
  const [reading, setReading] = useState<Reading | null>(null);
  const { read, pick } = useLight(shot, look, shown.picture?.divide ?? 1);
  const { footage } = shot;
  // Squeezed frames are shown as the scene was: wider.
  const stretch = shot.desqueezed ? 1 : shot.squeeze;
  const name = referenceName(held ?? compare.reference, selected, others);
  const wiping: WipeProps | null =
    other && compare.way === "wipe" && !held
      ? { line: compare.line, onLine: (line) => setView({ compare: { ...compare, line } }) }
      : null;
  const isBeside = other !== null && compare.way === "side" && !held;
  const told = useTold(look, isDifference, name);
  const { tools, isDrawing } = useTools(props, pick, wiping);

  const onHover = (spot: Spot | null) => {
    const pixel = spot && pixelAt(spot, footage);
    if (!pixel) return setReading(null);
    const code = shown.picture && codeAt(shown.picture, pixel, footage);
    setReading((before) => ({ ...pixel, light: before?.light ?? null, code }));
    read(pixel, (light) => setReading((before) => before && { ...before, light }));
  };
  const onSight = ({ rows, scale }: Sight) =>
    setView({ inSight: rows, enough: enoughFor(footage.width * scale, footage.width) });
  const isFit = looking.zoom === "fit";
  const onLooking = (next: Looking) => setView({ looking: next });

  return (
    <section
      aria-label="Picture"
      aria-busy={shown.busy || (other !== null && other.busy)}
      className="relative h-full min-h-0 overflow-hidden bg-[#101010]"
    >
      <div className={isBeside ? "grid h-full grid-cols-2 gap-px bg-line" : "h-full"}>
        <div className="relative h-full overflow-hidden bg-[#101010]">
          <Viewport
            frame={footage}
            stretch={stretch}
            looking={looking}
            onLooking={onLooking}
            tools={tools}
            cursor={isDrawing ? "crosshair" : undefined}
            onHover={onHover}
            onSight={onSight}
            onDoubleClick={() => !isDrawing && setView({ looking: isFit ? { ...WHOLE, zoom: 1 } : WHOLE })}
          >
            {(placing) => (
              <>
                <OwnLayer shown={shown} frame={footage} placing={placing} />
                {!isBeside && <ReferenceLayer other={other} frame={footage} placing={placing} line={wiping?.line} />}
                <Overlays shot={shot} at={at} placing={placing} />
                {wiping && <WipeEdge {...wiping} name={name} frame={footage} placing={placing} />}
                <output
                  aria-label="Light under the cursor"
                  className="figures pointer-events-none absolute right-2 bottom-2 rounded bg-black/65 px-2 py-0.5 whitespace-pre"
                >
                  {reading ? readingText(reading) : aboutPicture(shot, shown, placing.scaleY)}
                </output>
              </>
            )}
          </Viewport>
        </div>
        {isBeside && (
          <div className="relative h-full overflow-hidden bg-[#101010]">
            <Viewport
              frame={footage}
              stretch={stretch}
              looking={looking}
              onLooking={onLooking}
              tools={[]}
              onHover={() => {}}
            >
              {(placing) => <ReferenceLayer other={other} frame={footage} placing={placing} />}
            </Viewport>
            <Told>{sentence(name)}</Told>
          </div>
        )}
      </div>
      {told && <Told>{told}</Told>}
      <ExposureTold />
      <TrackBar />
      {shown.problem && (
        <p
          role="alert"
          className="absolute inset-x-0 top-1/2 mx-auto w-fit -translate-y-1/2 rounded border border-line bg-base-200 px-4 py-2"
        >
          {shown.problem}
        </p>
      )}
      {!shown.picture && !shown.problem && (
        <p className="absolute inset-x-0 top-1/2 text-center text-quiet">Making the picture …</p>
      )}
    </section>
  );
}

/** Says on the picture that it is shown otherwise than it is. */
function ExposureTold() {
  const { exposure } = useView("exposure");
  if (exposure === 0) return null;
  return (
    <p className="absolute top-2 right-2 rounded bg-black/60 px-2 text-warning">Viewed {signedStops(exposure)} stops</p>
  );
}

const sentence = (words: string) => words[0]!.toUpperCase() + words.slice(1);

/** The frame's size, how large it is shown, and how the picture was made. */
function aboutPicture({ footage }: ShotDetail, { picture }: Shown, scale: number): string {
  const ratio = typeof devicePixelRatio === "number" ? devicePixelRatio : 1;
  const made = picture ? [`${picture.divide > 1 ? "proxy" : "full"} ${picture.milliseconds.toFixed(0)} ms`] : [];
  return [`${footage.width} × ${footage.height}`, `${(scale * ratio * 100).toFixed(0)} %`, ...made].join("   ");
}
