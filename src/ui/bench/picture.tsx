"use client";
import { useState } from "react";
import type { LookAtFrame } from "@/core/look/at-frame";
import { upTo } from "@/core/look/excerpt";
import type { Look } from "@/core/look/look";
import { type Others, referenceName } from "../compare/compare";
import { wipeClip, type WipeProps, WipeEdge, wipeTool } from "../compare/wipe";
import { type Light, useChannel } from "../engine/engine";
import { PRIORITY } from "../engine/messages";
import { Handles } from "../viewport/handles/handles";
import { PictureLayer } from "../viewport/picture-layer";
import { type Placing, type Spot, WHOLE } from "../viewport/place";
import { codeAt, pixelAt, type Reading, readingText } from "../viewport/reading";
import { type Tool, Viewport } from "../viewport/viewport";
import { PartFrame, partTool } from "../scopes/part";
import { handlesOf } from "./handles";
import { isThere, tellingOf } from "./inspect";
import { TrackBar } from "./track/track-bar";
import { regionTool, TrackOverlay } from "./track/track-overlay";
import { useBench } from "./store";
import type { Shown } from "./use-pictures";
import { useSource } from "./use-source";
import type { ShotDetail } from "../../contract/shots";

/** Light that may be picked: more than this is no colour of a surface or a lamp. */
const MOST_LIGHT = 1000;
const picked = (light: Light) => light.map((value) => Math.min(MOST_LIGHT, Math.max(0, value))) as Light;

/** What stands over the picture, to say what is seen. */
function Told({ children }: { children: React.ReactNode }) {
  return <p className="absolute top-2 left-2 rounded bg-black/60 px-2">{children}</p>;
}

/** Light under the cursor: read as the hand moves, and picked with a click. */
function useLight(shot: ShotDetail, look: Look) {
  const { frame } = useBench();
  const reading = useChannel(PRIORITY.read);
  const picking = useChannel(PRIORITY.picked);
  const source = useSource(shot, look);
  const orderOf = (of: Look) => ({ ...source, look: of, frame, divide: 1, output: { kind: "light" as const } });
  return {
    read: (at: Spot, light: (light: Light) => void) => reading().probe(orderOf(look), at, light),
    /** Light as it comes to an element, or (null) as the path leaves it. */
    pick: (before: string | null, at: Spot, light: (light: Light) => void) =>
      picking().probe(orderOf(before === null ? look : upTo(look, before)), at, light),
  };
}

/** The picture: pan and zoom, a wipe, what is dragged on it, and the light under the cursor. */
export function PictureArea({
  shot,
  look,
  at,
  shown,
  isDifference,
  other,
  others,
}: {
  shot: ShotDetail;
  look: Look;
  at: LookAtFrame;
  shown: Shown;
  /** Whether what is shown is the difference from what it is compared with. */
  isDifference: boolean;
  /** What it is compared with, where that is seen. */
  other: Shown | null;
  others: Others;
}) {
  const { looking, held, preview, compare, scopes, inspect, alone, region, track, picking, selected, marked } =
    useBench();
  const { handles, playing, set } = useBench();
  const [reading, setReading] = useState<Reading | null>(null);
  const { read, pick } = useLight(shot, look);
  const { footage } = shot;
  // Squeezed frames are shown as the scene was: wider.
  const stretch = shot.desqueezed ? 1 : shot.squeeze;
  const name = referenceName(held ?? compare.reference, selected, others);
  const wiping: WipeProps | null =
    other && compare.way === "wipe" && !held
      ? { line: compare.line, onLine: (line) => set({ compare: { ...compare, line } }) }
      : null;
  const isBeside = other !== null && compare.way === "side" && !held;
  const telling = preview
    ? preview.name
    : held
      ? sentence(name)
      : isDifference
        ? `Difference from ${name}, ${compare.times} times, on mid-grey`
        : (isThere(inspect, look, selected) && tellingOf(inspect, 1 + marked.length)) ||
          (alone && selected && "This element alone");

  const onHover = (spot: Spot | null) => {
    const pixel = spot && pixelAt(spot, footage);
    if (!pixel) return setReading(null);
    const code = shown.picture && codeAt(shown.picture, pixel, footage);
    setReading((before) => ({ ...pixel, light: before?.light ?? null, code }));
    read(pixel, (light) => setReading((before) => before && { ...before, light }));
  };
  const picker: Tool = {
    press: (spot) => {
      const pixel = picking && pixelAt(spot, footage);
      if (!picking || !pixel) return null;
      pick(picking.before, pixel, (light) => {
        picking.take(picked(light), spot);
        set({ picking: null });
      });
      return { move: () => {} };
    },
  };
  const drawsPart = scopes.open && scopes.part === "draw";
  const drawing = region !== null || drawsPart;
  const isFit = looking.zoom === "fit";
  const referenceLayer = (placing: Placing, clipPath?: string) =>
    other && (
      <div className="absolute inset-0" style={{ clipPath }}>
        <PictureLayer
          picture={other.picture}
          under={other.under}
          name="reference"
          label="What it is compared with"
          frame={footage}
          placing={placing}
        />
      </div>
    );

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
            onLooking={(next) => set({ looking: next })}
            tools={[
              picker,
              ...(region !== null ? [regionTool((drawn) => set({ region: drawn }))] : []),
              ...(drawsPart ? [partTool(footage, (part) => set({ scopes: { ...scopes, part } }))] : []),
              ...(wiping ? [wipeTool(wiping, footage)] : []),
            ]}
            cursor={picking || drawing ? "crosshair" : undefined}
            onHover={onHover}
            onRows={(rows) => set({ inSight: rows })}
            onDoubleClick={() => !picking && !drawing && set({ looking: isFit ? { ...WHOLE, zoom: 1 } : WHOLE })}
          >
            {(placing) => (
              <>
                <PictureLayer
                  picture={shown.picture}
                  under={shown.under}
                  name="picture"
                  label="The picture"
                  frame={footage}
                  placing={placing}
                />
                {!isBeside && referenceLayer(placing, wiping ? wipeClip(wiping.line, footage, placing) : undefined)}
                {handles && !playing && !held && !preview && !picking && !region && (
                  <Handles handles={handlesOf(at, selected)} frame={footage} stretch={stretch} placing={placing} />
                )}
                {scopes.open && scopes.part && scopes.part !== "draw" && (
                  <PartFrame part={scopes.part} frame={footage} placing={placing} />
                )}
                {(region || track) && !held && <TrackOverlay placing={placing} />}
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
              onLooking={(next) => set({ looking: next })}
              tools={[]}
              onHover={() => {}}
            >
              {(placing) => referenceLayer(placing)}
            </Viewport>
            <Told>{sentence(name)}</Told>
          </div>
        )}
      </div>
      {telling && <Told>{telling}</Told>}
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

const sentence = (words: string) => words[0]!.toUpperCase() + words.slice(1);

/** The frame's size, how large it is shown, and how the picture was made. */
function aboutPicture({ footage }: ShotDetail, { picture }: Shown, scale: number): string {
  const ratio = typeof devicePixelRatio === "number" ? devicePixelRatio : 1;
  const made = picture ? [`${picture.divide > 1 ? "proxy" : "full"} ${picture.milliseconds.toFixed(0)} ms`] : [];
  return [`${footage.width} × ${footage.height}`, `${(scale * ratio * 100).toFixed(0)} %`, ...made].join("   ");
}
