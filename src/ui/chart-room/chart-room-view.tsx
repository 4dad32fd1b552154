"use client";
import Link from "next/link";
import { useEffect, useRef, useState } from "react";
import { type Dropped, droppedFiles } from "../footage/intake/files";
import { chartSheet, PAPERS } from "@/core/measure/chart-sheet";
import { saveFile } from "../shared/download";
import { NumberInput } from "../shared/number-input";
import { SensorSelect } from "../shared/sensor-select";
import { ChartPicture } from "./chart-picture";
import { MeasurementList } from "./measurement-list";
import { MeasurementPanel } from "./measurement-panel";
import { ProfilePanel } from "./profile-panel";
import { leaveMeasuring, measureAll, measureNext } from "./runner";
import { measureFiles, Sources } from "./sources";
import { useSession } from "./session";
import { KIND_WORDS } from "./words";

/** What all frames were shot on. */
function SensorFields() {
  const { head, setHead } = useSession();
  const { width, height } = head.sensor;
  const put = (sensor: { width: number; height: number }) => {
    setHead({ sensor });
    measureAll();
  };
  return (
    <div className="flex flex-col gap-1">
      <label className="grid grid-cols-[3.4rem_minmax(0,1fr)] items-center gap-2">
        <span>Sensor</span>
        <SensorSelect width={width} height={height} onChange={put} />
      </label>
      <div className="flex items-center gap-1 pl-16">
        <NumberInput
          label="Sensor width"
          value={width}
          min={1}
          max={200}
          step={0.01}
          unit="×"
          onSave={(value) => value && put({ width: value, height })}
        />
        <NumberInput
          label="Sensor height"
          value={height}
          min={1}
          max={200}
          step={0.01}
          unit="mm"
          onSave={(value) => value && put({ width, height: value })}
        />
      </div>
    </div>
  );
}

const SHEETS = [
  { kind: "edges", label: "Slanted edges (SVG)" },
  { kind: "grid", label: "Grid of dots (SVG)" },
] as const;

/** What to shoot, where nothing has been dropped yet. */
const Beginning = () => (
  <section aria-label="How to begin" className="mx-auto mt-14 flex max-w-xl flex-col gap-3 px-6">
    <h1 className="text-lg font-semibold">Measure a lens or a filter</h1>
    <p>
      Drop frames of charts anywhere on this page, of any kind that footage comes in. Each is measured as it comes, and
      what was found is drawn over it. All of one lens together become its profile.
    </p>
    <dl className="grid grid-cols-[11rem_1fr] gap-x-4 gap-y-2">
      {Object.values(KIND_WORDS).map(({ label, gives, shoot }) => (
        <div key={label} className="contents">
          <dt className="font-semibold">{label}</dt>
          <dd>
            {gives}
            <span className="block text-quiet">{shoot}</span>
          </dd>
        </div>
      ))}
    </dl>
    <p className="flex flex-wrap items-center gap-2">
      Charts to print at 100 %, A3:
      {SHEETS.map(({ kind, label }) => (
        <button
          key={kind}
          type="button"
          className="btn btn-xs"
          onClick={() => saveFile(`chart-${kind}-a3.svg`, chartSheet(kind, PAPERS.a3), "image/svg+xml")}
        >
          {label}
        </button>
      ))}
      <Link className="underline underline-offset-2" href="/handbook/measure-a-lens">
        How to shoot them
      </Link>
    </p>
  </section>
);

/** Lenses and filters are measured from frames of charts, and kept as profiles. */
export function ChartRoomView() {
  const { measurements, chosen, clear } = useSession();
  const [sending, setSending] = useState<string | null>(null);
  const [isOver, setOver] = useState(false);
  const control = useRef(new AbortController());
  useEffect(() => {
    void Promise.resolve(useSession.persist.rehydrate()).then(measureNext);
    return () => {
      leaveMeasuring();
    };
  }, []);
  const take = (files: Dropped[]) => {
    control.current = new AbortController();
    void measureFiles(files, control.current.signal, setSending);
  };
  const measurement = measurements.find(({ id }) => id === chosen);
  return (
    <div
      className={`grid h-full grid-cols-[290px_minmax(0,1fr)_370px] ${isOver ? "halo" : ""}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        void droppedFiles(event).then(take);
      }}
    >
      <aside aria-label="Frames" className="flex min-h-0 flex-col gap-3 overflow-y-auto border-r border-line p-3">
        <Sources onFiles={take} sending={sending} />
        <SensorFields />
        <MeasurementList />
        {measurements.length > 0 && (
          <button
            type="button"
            className="btn btn-xs self-start"
            onClick={() => {
              leaveMeasuring();
              clear();
            }}
          >
            Begin anew
          </button>
        )}
      </aside>
      {measurement ? <ChartPicture key={measurement.id} measurement={measurement} /> : <Beginning />}
      <aside aria-label="What was measured" className="flex min-h-0 flex-col border-l border-line">
        {measurement && (
          <div className="min-h-0 flex-1 overflow-y-auto p-3">
            <MeasurementPanel measurement={measurement} />
          </div>
        )}
        <div className={measurement ? "border-t border-line p-3" : "p-3"}>
          <ProfilePanel />
        </div>
      </aside>
    </div>
  );
}
