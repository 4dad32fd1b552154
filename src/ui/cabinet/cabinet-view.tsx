"use client";
import { useQuery } from "@tanstack/react-query";
import type { Data } from "plotly.js";
import { useSearchParams } from "next/navigation";
import { useState } from "react";
import { distorted, distortionOf, type DistortionTable } from "@/core/profile/distortion";
import type { FilterProfile, LensProfile, Profile } from "@/core/profile/profiles";
import { api } from "../shared/api";
import { type Axis, Plot } from "../shared/plot";
import { useProductionTitle } from "../shared/production";

const INKS = ["#f0f0f0", "#c4c4c4", "#9c9c9c", "#7c7c7c", "#666666", "#555555"];

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
const CHANNELS = { red: "#ff8d7a", green: "#8fd694", blue: "#8fb4ff" } as const;
const SPARK = { width: 120, height: 26 };

const line = (x: number[], y: number[], name: string, color: string, dash: "solid" | "dot" = "solid"): Data => ({
  type: "scatter",
  mode: "lines",
  x,
  y,
  name,
  line: { color, width: 1.6, dash },
  hovertemplate: `%{x:.3g}<br>%{y:.3g}<extra>${name}</extra>`,
});

/** A profile's most telling curve, small: relative illumination of a lens, spread of a filter. */
function Spark({ profile }: { profile: Profile }) {
  const table = profile.format === "pale-halo-lens" ? profile.illumination?.[0] : undefined;
  const [xs, ys] =
    profile.format === "pale-halo-lens"
      ? [table?.heights ?? [], table?.relative ?? []]
      : [
          profile.grades[0]!.spread.degrees.slice(1).map(Math.log),
          profile.grades[0]!.spread.green.slice(1).map((value) => Math.log(Math.max(value, 1e-9))),
        ];
  if (xs.length < 2) return <span className="w-[120px]" />;
  const span = (values: number[]) => [Math.min(...values), Math.max(...values)] as const;
  const [[x0, x1], [y0, y1]] = [span(xs), span(ys)];
  const points = xs
    .map(
      (x, i) =>
        `${((x - x0) / (x1 - x0)) * SPARK.width},${SPARK.height - 2 - ((ys[i]! - y0) / (y1 - y0 || 1)) * (SPARK.height - 4)}`,
    )
    .join(" ");
  return (
    <svg {...SPARK} aria-hidden>
      <polyline points={points} fill="none" stroke="#cfcfcf" strokeWidth="1.3" />
    </svg>
  );
}

function Chart({
  title,
  note,
  traces,
  x,
  y,
  origin,
}: {
  title: string;
  note?: string;
  traces: Data[];
  x: Axis;
  y: Axis;
  origin?: LensProfile["origin"];
}) {
  const from = typeof origin === "string" ? origin : origin && [origin.kind, origin.how].filter(Boolean).join(", ");
  return (
    <figure className="min-w-0 rounded-md border border-line bg-base-200 p-2">
      <figcaption className="flex items-baseline gap-2 px-1">
        <span className="font-semibold">{title}</span>
        <span className="truncate text-quiet">{note}</span>
      </figcaption>
      <Plot traces={traces} x={x} y={y} height={206} label={title} />
      {from && (
        <p className="truncate px-1 text-quiet" title={from}>
          Origin: {from}
        </p>
      )}
    </figure>
  );
}

const at = <T,>(list: T[], i: number) => list[Math.min(i, list.length - 1)]!;

function LensSheet({ lens }: { lens: LensProfile }) {
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

function FilterSheet({ filter }: { filter: FilterProfile }) {
  const [chosen, setChosen] = useState(filter.grades[0]!.grade);
  const grade = filter.grades.find((entry) => entry.grade === chosen) ?? filter.grades[0]!;
  const decades = (values: number[]) => values.map((value) => value / Math.max(...grade.spread.green));
  return (
    <>
      <div role="group" aria-label="Grade" className="join mb-2">
        {filter.grades.map((entry) => (
          <button
            key={entry.grade}
            type="button"
            className={`btn btn-xs join-item ${entry.grade === chosen ? "btn-primary" : ""}`}
            aria-pressed={entry.grade === chosen}
            onClick={() => setChosen(entry.grade)}
          >
            {entry.grade}
          </button>
        ))}
      </div>
      <div className="grid grid-cols-2 gap-3 2xl:grid-cols-3">
        <Chart
          title="Spread"
          note={`grade ${grade.grade}`}
          origin={grade.origin}
          x={{ title: "Scatter angle (°)", logarithmic: true }}
          y={{ title: "Light per area (against the centre)", logarithmic: true }}
          traces={(["red", "green", "blue"] as const).map((channel) =>
            line(grade.spread.degrees.slice(1), decades(grade.spread[channel]).slice(1), channel, CHANNELS[channel]),
          )}
        />
        <Chart
          title="Scattered light by grade"
          x={{ title: "Grade, weakest to strongest" }}
          y={{ title: "Scattered light (%)" }}
          traces={[
            {
              type: "bar",
              x: filter.grades.map((entry) => `grade ${entry.grade}`),
              y: filter.grades.map(({ scatter }) => 100 * scatter),
              marker: { color: filter.grades.map((entry) => (entry.grade === chosen ? "#fff3dc" : "#8a8a8a")) },
              hovertemplate: "%{x}<br>%{y:.0f} %<extra></extra>",
            } as Data,
          ]}
        />
      </div>
      <p className="mt-2 text-quiet">
        Grade {grade.grade}: <span className="figures">{(100 * grade.scatter).toFixed(0)} %</span> of the light is
        scattered, <span className="figures">{(100 * grade.absorption).toFixed(0)} %</span> of that absorbed;
        transmission <span className="figures">{grade.transmissionStops.toFixed(2).replace("-", "−")} stops</span>.
      </p>
    </>
  );
}

/** Lenses and filters, each with its data sheet. */
export function CabinetView() {
  const profiles = useQuery({ queryKey: ["profiles"], queryFn: api.profiles, staleTime: Infinity });
  const place = useSearchParams();
  const [chosen, setChosen] = useState<string | null>(place.get("profile"));
  useProductionTitle();
  const choose = (id: string) => {
    setChosen(id);
    window.history.replaceState(null, "", `/cabinet?profile=${id}`);
  };
  const all = profiles.data ?? [];
  const profile = all.find(({ id }) => id === chosen) ?? all.find(({ format }) => format === "pale-halo-lens");
  const shelf = (label: string, format: Profile["format"]) => (
    <section className="mb-4">
      <h2 className="mb-1 text-quiet">{label}</h2>
      <ul className="flex flex-col gap-1">
        {all
          .filter((entry) => entry.format === format)
          .map((entry) => (
            <li key={entry.id}>
              <button
                type="button"
                aria-pressed={entry.id === profile?.id}
                onClick={() => choose(entry.id)}
                className={`flex w-full items-center justify-between gap-2 rounded-md px-2 py-1 text-left ${entry.id === profile?.id ? "halo" : "hover:bg-base-200"}`}
              >
                <span>{entry.name}</span>
                <Spark profile={entry} />
              </button>
            </li>
          ))}
      </ul>
    </section>
  );
  return (
    <div className="grid h-full grid-cols-[290px_minmax(0,1fr)]">
      <aside aria-label="Glass" className="overflow-y-auto border-r border-line p-3">
        {shelf("Lenses", "pale-halo-lens")}
        {shelf("Filters", "pale-halo-filter")}
      </aside>
      <article className="overflow-y-auto p-4">
        {profile && (
          <>
            <header className="mb-2">
              <h1 className="text-lg font-semibold">{profile.name}</h1>
              <p className="text-quiet">
                {profile.notes}{" "}
                {profile.format === "pale-halo-lens" && profile.imageCircle
                  ? `Image circle ${profile.imageCircle} mm, squeeze ${profile.squeeze}×.`
                  : ""}
              </p>
            </header>
            {profile.format === "pale-halo-lens" ? (
              <LensSheet key={profile.id} lens={profile} />
            ) : (
              <FilterSheet key={profile.id} filter={profile} />
            )}
          </>
        )}
        {profiles.isError && <p role="alert">{profiles.error.message}</p>}
      </article>
    </div>
  );
}
