"use client";
import { useState } from "react";
import type { Region } from "@/core/measure/chart";
import type { Reading } from "@/core/measure/readings";
import { type Looking, toRoom, type ViewTransform, WHOLE } from "../viewport/place";
import { type Tool, Viewport } from "../viewport/viewport";
import { EdgeMarks, GridMarks, LampMarks, RegionMark } from "./marks";
import { PictureCanvas } from "./picture-canvas";
import { measureAgain, useShown } from "./runner";
import { addressOf, type Measurement, useSession } from "./session";
import { PICTURES } from "@/core/measure/readings";

/** A region smaller than this, px, is a slip of the hand. */
const MIN_REGION = 48;

const between = (a: { x: number; y: number }, b: { x: number; y: number }, width: number, height: number): Region => {
  const [x0, x1] = [Math.min(a.x, b.x), Math.max(a.x, b.x)].map((x) => Math.round(Math.min(width, Math.max(0, x))));
  const [y0, y1] = [Math.min(a.y, b.y), Math.max(a.y, b.y)].map((y) => Math.round(Math.min(height, Math.max(0, y))));
  return { left: x0!, top: y0!, width: x1! - x0!, height: y1! - y0! };
};

/** What lies over the picture: what was found in it, and the region that was drawn. */
function Marks({
  measurement,
  reading,
  region,
  placing,
}: {
  measurement: Measurement;
  reading: Reading | null;
  region: Region | null;
  placing: ViewTransform;
}) {
  const { change } = useSession();
  const origin = measurement.region ?? { left: 0, top: 0 };
  const at = (x: number, y: number) => toRoom(placing, { x: x + origin.left + 0.5, y: y + origin.top + 0.5 });
  const toggle = (x: number, y: number) => {
    const { leftOut, id } = measurement;
    const others = leftOut.filter(([px, py]) => px !== x || py !== y);
    change(id, { leftOut: others.length < leftOut.length ? others : [...leftOut, [x, y]] });
  };
  return (
    <svg className="pointer-events-none absolute inset-0 size-full" aria-label="What was found">
      {region && <RegionMark region={region} placing={placing} />}
      {reading?.kind === "edges" && (
        <EdgeMarks reading={reading} leftOut={measurement.leftOut} at={at} scale={placing.scaleX} onToggle={toggle} />
      )}
      {reading?.kind === "grid" && <GridMarks reading={reading} at={at} />}
      {reading?.kind === "point" && <LampMarks reading={reading} at={at} scale={placing.scaleX} />}
    </svg>
  );
}

/** A frame of a chart with what was found in it; a region is drawn by dragging. */
export function ChartPicture({ measurement }: { measurement: Measurement }) {
  const [looking, setLooking] = useState<Looking>(WHOLE);
  const [which, setWhich] = useState(0);
  const [isDrawing, setDrawing] = useState(false);
  const [drawn, setDrawn] = useState<Region | null>(null);
  const picture = measurement.pictures[which] ?? measurement.pictures[0];
  const address = picture && addressOf(picture);
  const bitmap = useShown(({ pictures }) => (address ? pictures.get(address) : undefined));
  const { width, height } = picture ?? { width: 16, height: 9 };
  const region = drawn ?? measurement.region;
  const tool: Tool = {
    press(from) {
      if (!isDrawing) return null;
      let latest: Region | null = null;
      return {
        move(to) {
          latest = between(from, to, width, height);
          setDrawn(latest);
        },
        end() {
          setDrawn(null);
          setDrawing(false);
          if (latest && latest.width >= MIN_REGION && latest.height >= MIN_REGION)
            measureAgain(measurement.id, { region: latest, leftOut: [] });
        },
      };
    },
  };
  const names = PICTURES[measurement.order.kind].names;
  return (
    <section aria-label="The frame" className="flex min-h-0 min-w-0 flex-col">
      <div className="flex h-9 shrink-0 items-center gap-2 border-b border-line px-3">
        <span className="figures truncate text-quiet">
          {picture ? `${picture.name}, ${width} × ${height}` : "No frame"}
        </span>
        <div className="ml-auto flex items-center gap-2">
          {measurement.pictures.length > 1 && (
            <div role="group" aria-label="Frame" className="join">
              {measurement.pictures.map((one, i) => (
                <button
                  key={one.name}
                  type="button"
                  className={`btn btn-xs join-item ${i === which ? "btn-primary" : ""}`}
                  aria-pressed={i === which}
                  title={one.name}
                  onClick={() => setWhich(i)}
                >
                  {names[i]}
                </button>
              ))}
            </div>
          )}
          {PICTURES[measurement.order.kind].least === 1 && (
            <button
              type="button"
              className={`btn btn-xs ${isDrawing ? "btn-primary" : ""}`}
              aria-pressed={isDrawing}
              onClick={() => setDrawing(!isDrawing)}
            >
              Draw a region
            </button>
          )}
          {measurement.region && (
            <button
              type="button"
              className="btn btn-xs"
              onClick={() => measureAgain(measurement.id, { region: null, leftOut: [] })}
            >
              Whole frame
            </button>
          )}
          <button type="button" className="btn btn-xs" onClick={() => setLooking(WHOLE)}>
            Fit
          </button>
          <button
            type="button"
            className="btn btn-xs"
            onClick={() => setLooking(({ middle }) => ({ zoom: 1, middle }))}
          >
            1:1
          </button>
        </div>
      </div>
      <div className="relative min-h-0 flex-1 overflow-hidden bg-[#101010]">
        {bitmap && (
          <Viewport
            frame={{ width, height }}
            stretch={1}
            looking={looking}
            onLooking={setLooking}
            tools={[tool]}
            cursor={isDrawing ? "crosshair" : undefined}
            onHover={() => {}}
          >
            {(placing) => (
              <>
                <PictureCanvas bitmap={bitmap} placing={placing} label="The chart" />
                <Marks measurement={measurement} reading={measurement.reading} region={region} placing={placing} />
              </>
            )}
          </Viewport>
        )}
      </div>
    </section>
  );
}
