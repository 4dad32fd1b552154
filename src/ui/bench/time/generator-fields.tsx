"use client";
import { useState } from "react";
import { describe } from "@/core/look/describe";
import { type Path, timedAt, withTimed } from "@/core/look/edit";
import { FOLLOWED } from "@/core/when/follow";
import type { Noise } from "@/core/when/noise";
import type { Ramp } from "@/core/when/ramp";
import type { Timed } from "@/core/when/when";
import { courseOf, GENERATORS } from "@/core/when/when";
import { useShownLook } from "../../shot/shown-look";
import { commit } from "../../shot/document";
import { readTable } from "./generators";

/** A short number of a generator. */
function Short({
  label,
  value,
  min,
  max,
  step,
  onChange,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  step: number;
  onChange(value: number): void;
}) {
  return (
    <label className="flex items-center justify-between gap-1">
      <span className="truncate text-quiet">{label}</span>
      <input
        type="number"
        className="figures w-20 rounded bg-base-300 px-1 text-right"
        value={value}
        min={min}
        max={max}
        step={step}
        onChange={({ target }) =>
          Number.isFinite(target.valueAsNumber) && onChange(Math.min(max, Math.max(min, target.valueAsNumber)))
        }
      />
    </label>
  );
}

const LARGEST = 1e6;

/** What the chosen value is moved by, and the few numbers of it. */
export function GeneratorFields({ path }: { path: Path }) {
  const { look } = useShownLook();
  const timed = timedAt(look, path);
  if (!timed) return <div />;
  const { unit, min, max, step } = describe(look, path);
  const put = (changed: Timed) => commit((now) => withTimed(now, path, changed));
  const course = courseOf(timed);
  const noise = (timed as { noise?: Noise }).noise;
  return (
    <div className="flex flex-col gap-0.5 overflow-y-auto px-3 py-1">
      {course !== "noise" && (
        <p className="text-quiet" title={GENERATORS[course].summary}>
          {GENERATORS[course].label}
        </p>
      )}
      {"ramp" in timed &&
        (["from", "to", "first", "last"] as const).map((name) => (
          <Short
            key={name}
            label={{ from: `From (${unit})`, to: `To (${unit})`, first: "First frame", last: "Last frame" }[name]}
            value={timed.ramp[name]}
            min={name === "from" || name === "to" ? min : name === "last" ? timed.ramp.first + 1 : -LARGEST}
            max={name === "from" || name === "to" ? max : name === "first" ? timed.ramp.last - 1 : LARGEST}
            step={name === "from" || name === "to" ? step : 1}
            onChange={(value) => put({ ...timed, ramp: { ...timed.ramp, [name]: value } as Ramp })}
          />
        ))}
      {"table" in timed && <TableField timed={timed} range={{ min, max }} onPut={put} />}
      {"track" in timed && (
        <>
          <select
            className="select select-xs w-full"
            aria-label="Track"
            value={timed.track.id}
            onChange={(event) => put({ ...timed, track: { ...timed.track, id: event.target.value } })}
          >
            {(look.tracks ?? []).map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
          <select
            className="select select-xs w-full"
            aria-label="What of the track"
            value={timed.track.what}
            onChange={(event) =>
              put({ ...timed, track: { ...timed.track, what: event.target.value as keyof typeof FOLLOWED } })
            }
          >
            {Object.entries(FOLLOWED).map(([name, label]) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </select>
        </>
      )}
      {noise && (
        <>
          <label className="flex items-center justify-between gap-1" title={GENERATORS.noise.summary}>
            <span>Noise{course === "noise" ? "" : " on top"}</span>
            <span className="flex items-center gap-1 text-quiet">
              stepped
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={noise.stepped}
                onChange={(event) => put({ ...timed, noise: { ...noise, stepped: event.target.checked } })}
              />
            </span>
          </label>
          {Object.entries(GENERATORS.noise.parameters).map(([name, parameter]) => (
            <Short
              key={name}
              {...parameter}
              label={`${parameter.label}${name === "amplitude" && unit ? ` (${unit})` : parameter.unit ? ` (${parameter.unit})` : ""}`}
              value={noise[name as "amplitude" | "rate" | "seed"]}
              onChange={(value) => put({ ...timed, noise: { ...noise, [name]: value } })}
            />
          ))}
        </>
      )}
    </div>
  );
}

/** A recorded value a frame: pasted as lines of a CSV, or dropped as a file. */
function TableField({
  timed,
  range: { min, max },
  onPut,
}: {
  timed: Extract<Timed, { table: unknown }>;
  range: { min: number; max: number };
  onPut(timed: Timed): void;
}) {
  const { values, first } = timed.table;
  const [text, setText] = useState(values.join("\n"));
  const [problem, setProblem] = useState<string | null>(null);
  const take = (given: string) => {
    setText(given);
    const read = readTable(given);
    const outside = read?.find((value) => value < min || value > max);
    setProblem(
      !read
        ? "One number a line, or a CSV whose last column holds numbers"
        : outside !== undefined
          ? `${outside} lies outside ${min} to ${max}`
          : null,
    );
    if (read && outside === undefined) onPut({ ...timed, table: { first, values: read } });
  };
  return (
    <>
      <textarea
        className="figures min-h-8 w-full resize-none rounded bg-base-300 px-1"
        aria-label="Values, one a line"
        value={text}
        onChange={(event) => take(event.target.value)}
        onDragOver={(event) => event.preventDefault()}
        onDrop={(event) => {
          const [file] = event.dataTransfer.files;
          if (!file) return;
          event.preventDefault();
          event.stopPropagation();
          void file.text().then(take);
        }}
      />
      {problem ? (
        <p role="alert" className="text-error">
          {problem}
        </p>
      ) : (
        <Short
          label={`${values.length} values from frame`}
          value={first}
          min={-LARGEST}
          max={LARGEST}
          step={1}
          onChange={(from) => onPut({ ...timed, table: { first: Math.round(from), values } })}
        />
      )}
    </>
  );
}
