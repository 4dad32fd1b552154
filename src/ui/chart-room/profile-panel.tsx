"use client";
import { useMemo } from "react";
import { MeasureError } from "@/core/measure/plane";
import { filterOf, lensOf, type Reading } from "@/core/measure/readings";
import { slugOf } from "@/core/profile/slug";
import type { Profile } from "@/core/profile/profiles";
import { NumberInput } from "../shared/number-input";
import { FieldRow } from "./fields";
import { KeepProfile } from "./keep-profile";
import { readingShown, type SessionHead, useSession } from "./session";

const TODAY = () => new Date().toISOString().slice(0, 10);

/** The profile that readings come to, or why there is none. */
function profileOf(head: SessionHead, readings: readonly Reading[]): { profile: Profile } | { lack: string } {
  const { name, set, by, squeeze, imageCircle } = head;
  if (!readings.length) return { lack: "Nothing is measured yet" };
  if (!name.trim()) return { lack: "Give it a name" };
  const common = {
    id: slugOf(name, "measured"),
    name: name.trim(),
    when: TODAY(),
    ...(set.trim() ? { set: set.trim() } : {}),
    ...(by.trim() ? { by: by.trim() } : {}),
  };
  try {
    if (readings.every(({ kind }) => kind === "pair")) return { profile: filterOf(common, readings) };
    return { profile: lensOf({ ...common, squeeze, ...(imageCircle ? { imageCircle } : {}) }, readings) };
  } catch (error) {
    if (error instanceof MeasureError) return { lack: error.message };
    throw error;
  }
}

/** What a lens still lacks for all that its profile can hold. */
function missingOf(readings: readonly Reading[]): string[] {
  const has = (kind: Reading["kind"]) => readings.some((reading) => reading.kind === kind);
  if (readings.length && readings.every(({ kind }) => kind === "pair")) return [];
  const flats = readings.filter(({ kind }) => kind === "flat");
  const points = readings.filter((reading) => reading.kind === "point");
  return [
    ...(has("edges") ? [] : ["contrast (slanted edges)"]),
    ...(has("flat") ? [] : ["illumination (an even field)"]),
    ...(has("grid") ? [] : ["distortion and lateral colour (a grid of dots)"]),
    ...(points.some(({ veil }) => veil) ? [] : ["veil and streak (small lamps in the dark)"]),
    ...(points.some(({ pupil }) => pupil) ? [] : ["the pupil (small lamps out of focus)"]),
    ...(has("transmission") ? [] : ["transmission (an even field without and with it)"]),
    ...(flats.some((flat) => flat.kind === "flat" && !flat.turned) ? ["the even field once more, turned by 180°"] : []),
  ];
}

const TABLE_WORDS: Record<Reading["kind"], string> = {
  edges: "Contrast",
  flat: "Illumination",
  grid: "Distortion, lateral colour",
  point: "Lamps",
  transmission: "Transmission",
  pair: "Grades",
};

/** What a reading adds to its kind of table: at which stop or focal length, or what of the lens. */
function placeOf(reading: Reading): string {
  if (reading.kind === "pair") return reading.grade.grade;
  if (reading.kind === "point") {
    const { veil, streak, pupil } = reading;
    return [veil && "veil", streak && "streak", pupil && "pupil"].filter(Boolean).join(", ");
  }
  return "stop" in reading ? `T${reading.stop}` : `${reading.focalLength} mm`;
}

const tablesIn = (readings: readonly Reading[]) =>
  (Object.keys(TABLE_WORDS) as Reading["kind"][]).flatMap((kind) => {
    const found = readings.filter((reading) => reading.kind === kind);
    const at = found.map(placeOf);
    return found.length ? [`${TABLE_WORDS[kind]}: ${at.join(", ")}`] : [];
  });

/** Everything measured so far as one lens or filter: what it has, what it lacks, and keeping it. */
export function ProfilePanel() {
  const { head, measurements, setHead } = useSession();
  const readings = useMemo(() => measurements.flatMap((one) => readingShown(one) ?? []), [measurements]);
  const made = useMemo(() => profileOf(head, readings), [head, readings]);
  const isFilter = readings.length > 0 && readings.every(({ kind }) => kind === "pair");
  const missing = missingOf(readings);
  return (
    <section aria-label="The profile" className="flex flex-col gap-2">
      <h2 className="font-semibold">{isFilter ? "The filter so far" : "The lens so far"}</h2>
      <ul className="text-quiet">
        {tablesIn(readings).map((words) => (
          <li key={words}>{words}</li>
        ))}
        {missing.length > 0 && readings.length > 0 && <li>Still missing: {missing.join("; ")}</li>}
      </ul>
      <FieldRow name="Name">
        <input
          className="input input-xs w-full"
          value={head.name}
          maxLength={100}
          onChange={({ target: { value } }) => setHead({ name: value })}
        />
      </FieldRow>
      <div className="grid grid-cols-[6.4rem_1fr_1fr] items-center gap-2">
        <span>Set, by whom</span>
        <input
          className="input input-xs w-full"
          aria-label="Set"
          placeholder="set"
          value={head.set}
          maxLength={100}
          onChange={({ target: { value } }) => setHead({ set: value })}
        />
        <input
          className="input input-xs w-full"
          aria-label="Measured by"
          placeholder="measured by"
          value={head.by}
          maxLength={100}
          onChange={({ target: { value } }) => setHead({ by: value })}
        />
      </div>
      {!isFilter && (
        <div className="grid grid-cols-[6.4rem_1fr_1fr] items-center gap-2">
          <span>Squeeze, circle</span>
          <NumberInput
            label="Squeeze"
            value={head.squeeze}
            min={0.25}
            max={4}
            step={0.05}
            unit="×"
            onSave={(value) => value && setHead({ squeeze: value })}
          />
          <NumberInput
            label="Image circle"
            value={head.imageCircle || null}
            min={1}
            max={500}
            step={0.1}
            unit="mm"
            empty="–"
            onSave={(value) => setHead({ imageCircle: value ?? 0 })}
          />
        </div>
      )}
      <KeepProfile made={made} />
    </section>
  );
}
