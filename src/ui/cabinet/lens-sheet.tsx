"use client";
import { useState } from "react";
import { distorted, distortionOf, type DistortionTable } from "@/core/profile/distortion";
import type { LensProfile } from "@/core/profile/profiles";
import { Chart, CHANNELS, INKS, line } from "./chart";

/** Directions from the axis a distortion is drawn along. */
const DIRECTIONS = [
  ["across", 1, 0],
  ["down", 0, 1],
  ["diagonal", Math.SQRT1_2, Math.SQRT1_2],
] as const;

/** Change of the image height (mm) of an ideal point in a direction, %. */
function displaced(table: DistortionTable, height: number, x: number, y: number): number {
  if (!height) return 0;
  const at = height / table.focalLength;
  return 100 * (Math.hypot(...distorted(distortionOf(table), 1, at * x, at * y)) / at - 1);
}
/** The ink of the i-th curve of a family; the last goes on. */
const at = <T,>(list: T[], i: number) => list[Math.min(i, list.length - 1)]!;

/** All that was measured of a lens. */
export function LensSheet({ lens }: { lens: LensProfile }) {
  const stops = lens.mtf?.map(({ stop }) => stop) ?? lens.illumination?.map(({ stop }) => stop) ?? [];
  const [stop, setStop] = useState(stops[0] ?? 0);
  const mtf = lens.mtf?.find((table) => table.stop === stop);
  const distortion = lens.distortion?.[0];
  const reach = (lens.imageCircle ?? 36) / 2;
  const heights = Array.from({ length: 40 }, (_, i) => (reach * i) / 39);
  return (
    <>
      {stops.length > 1 && (
        <div role="group" aria-label="Stop" className="join mb-2">
          {stops.map((value) => (
            <button
              key={value}
              type="button"
              className={`btn btn-xs join-item ${value === stop ? "btn-primary" : ""}`}
              aria-pressed={value === stop}
              onClick={() => setStop(value)}
            >
              T{value}
            </button>
          ))}
        </div>
      )}
      <div className="grid grid-cols-2 gap-3 2xl:grid-cols-3">
        {mtf && (
          <Chart
            title="Contrast by image height"
            note={`T${mtf.stop}; 10, 20, 40 lp/mm; dotted meridional`}
            origin={mtf.origin}
            x={{ title: "Image height (mm)" }}
            y={{ title: "Contrast (%)", range: [0, 102] }}
            traces={[10, 20, 40].flatMap((f, i) => {
              const column = mtf.frequencies.indexOf(f);
              if (column < 0) return [];
              return (["sagittal", "meridional"] as const).map((direction) =>
                line(
                  mtf.heights,
                  mtf[direction].map((row) => 100 * row[column]!),
                  `${f} lp/mm ${direction}`,
                  at(INKS, i),
                  direction === "sagittal" ? "solid" : "dot",
                ),
              );
            })}
          />
        )}
        {mtf && (
          <Chart
            title="Contrast by frequency"
            note={`T${mtf.stop}; centre, half and full field, sagittal`}
            origin={mtf.origin}
            x={{ title: "Spatial frequency (lp/mm)" }}
            y={{ title: "Contrast (%)", range: [0, 102] }}
            traces={[0, mtf.heights.length >> 1, mtf.heights.length - 1].map((row, i) =>
              line(
                mtf.frequencies,
                mtf.sagittal[row]!.map((value) => 100 * value),
                `${mtf.heights[row]} mm`,
                at(INKS, i),
              ),
            )}
          />
        )}
        {lens.illumination && (
          <Chart
            title="Relative illumination"
            note="each stop measured, widest brightest line"
            origin={lens.illumination[0]!.origin}
            x={{ title: "Image height (mm)" }}
            y={{ title: "Light against the axis (stops)" }}
            traces={lens.illumination.map((table, i) =>
              line(table.heights, table.relative.map(Math.log2), `T${table.stop}`, at(INKS, i)),
            )}
          />
        )}
        {distortion && (
          <Chart
            title="Distortion"
            note={`${distortion.focalLength} mm${distortion.model === "anamorphic" ? "; across, down and diagonal, brightest first" : ""}`}
            origin={distortion.origin}
            x={{ title: "Image height (mm)" }}
            y={{ title: "Displacement (% of height)" }}
            traces={DIRECTIONS.map(([name, x, y], i) =>
              line(
                heights,
                heights.map((h) => displaced(distortion, h, x, y)),
                name,
                at(INKS, i),
              ),
            )}
          />
        )}
        {lens.lateralColour?.map((table) => (
          <Chart
            key={table.focalLength}
            title="Lateral colour"
            note="against green"
            origin={table.origin}
            x={{ title: "Image height (mm)" }}
            y={{ title: "Displacement (µm)" }}
            traces={[
              line(table.heights, table.red, "red", CHANNELS.red),
              line(table.heights, table.blue, "blue", CHANNELS.blue),
            ]}
          />
        ))}
        {lens.transmission && (
          <Chart
            title="Spectral transmission"
            origin={lens.transmission.origin}
            x={{ title: "Wavelength (nm)" }}
            y={{ title: "Transmission (%)", range: [0, 102] }}
            traces={[
              line(
                lens.transmission.wavelengths,
                lens.transmission.values.map((value) => 100 * value),
                "transmission",
                INKS[0]!,
              ),
            ]}
          />
        )}
      </div>
    </>
  );
}
