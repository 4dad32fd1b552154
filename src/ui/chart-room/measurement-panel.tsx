"use client";
import type { ReadingKind, ReadingOrder } from "@/core/measure/readings";
import { EncodingSelect } from "../shared/encodings";
import { NumberInput } from "../shared/number-input";
import { ReadingCurves } from "./curves";
import { changeOrder, measureAgain, stopMeasuring } from "./runner";
import { commonOf, lackOf, type Measurement, orderOf, readingShown, useSession } from "./session";
import { factsOf, KIND_WORDS } from "./words";

const row = "grid grid-cols-[6.4rem_1fr] items-center gap-2";

type GridModel = NonNullable<Extract<ReadingOrder, { kind: "grid" }>["model"]>;
const MODEL_WORDS: Record<GridModel, string> = {
  "radial-tangential": "Radial and tangential",
  anamorphic: "Anamorphic",
};

/** What was shot, with which focal length and stop. */
function OrderFields({ measurement }: { measurement: Measurement }) {
  const { order } = measurement;
  const put = (change: Partial<ReadingOrder>) => changeOrder(measurement, { ...order, ...change } as ReadingOrder);
  return (
    <>
      <label className={row}>
        <span>What was shot</span>
        <select
          className="select select-xs w-full"
          value={order.kind}
          onChange={(event) => changeOrder(measurement, orderOf(event.target.value as ReadingKind, commonOf([order])))}
        >
          {(Object.keys(KIND_WORDS) as ReadingKind[]).map((kind) => (
            <option key={kind} value={kind}>
              {KIND_WORDS[kind].label}
            </option>
          ))}
        </select>
      </label>
      <div className={row}>
        <span>Focal length</span>
        <NumberInput
          label="Focal length"
          value={order.focalLength}
          min={1}
          max={5000}
          step={1}
          unit="mm"
          onSave={(value) => value && put({ focalLength: value })}
        />
      </div>
      {"stop" in order && (
        <div className={row}>
          <span>Stop</span>
          <NumberInput
            label="Stop"
            value={order.stop}
            min={0.5}
            max={128}
            step={0.1}
            unit="T-stop"
            onSave={(value) => value && put({ stop: value })}
          />
        </div>
      )}
      {order.kind === "pair" && (
        <label className={row}>
          <span>Grade</span>
          <input
            key={order.grade}
            className="input input-xs w-24"
            defaultValue={order.grade}
            maxLength={20}
            onBlur={({ target: { value } }) => value.trim() && value !== order.grade && put({ grade: value.trim() })}
          />
        </label>
      )}
      {order.kind === "grid" && (
        <label className={row}>
          <span>Model</span>
          <select
            className="select select-xs w-full"
            value={order.model ?? ""}
            onChange={({ target: { value } }) =>
              changeOrder(measurement, {
                kind: "grid",
                focalLength: order.focalLength,
                ...(value ? { model: value as GridModel } : {}),
              })
            }
          >
            <option value="">The one that the dots bear out</option>
            {(Object.keys(MODEL_WORDS) as GridModel[]).map((model) => (
              <option key={model} value={model}>
                {MODEL_WORDS[model]}
              </option>
            ))}
          </select>
        </label>
      )}
    </>
  );
}

/** A measurement: what was shot, how its frames are encoded, and what was read of them. */
export function MeasurementPanel({ measurement }: { measurement: Measurement }) {
  const { pictures, state, reason, order, leftOut, id } = measurement;
  const change = useSession((session) => session.change);
  const shown = readingShown(measurement);
  const encoding = pictures[0]?.encoding ?? "linear-ap1";
  return (
    <section aria-label="The measurement" className="flex flex-col gap-2">
      <OrderFields measurement={measurement} />
      <div className={row}>
        <span>Encoding</span>
        <EncodingSelect
          label="Encoding of the frames"
          value={encoding}
          onChange={(name) => measureAgain(id, { pictures: pictures.map((one) => ({ ...one, encoding: name })) })}
        />
      </div>
      {state === "measuring" && (
        <button type="button" className="btn btn-xs self-start" onClick={() => stopMeasuring(id)}>
          Stop
        </button>
      )}
      {state === "refused" && (
        <div role="alert" className="rounded-md border border-line bg-base-300 p-2">
          <p className="text-warning">{reason ?? lackOf(measurement)}</p>
          <p className="text-quiet">What is wanted: {KIND_WORDS[order.kind].shoot}.</p>
          <button type="button" className="btn btn-xs mt-1" onClick={() => measureAgain(id)}>
            Measure again
          </button>
        </div>
      )}
      {shown && (
        <>
          <ul className="list-disc pl-4">
            {factsOf(shown).map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
          {leftOut.length > 0 && (
            <p className="flex items-center gap-2">
              {leftOut.length} left out by hand
              <button type="button" className="btn btn-xs" onClick={() => change(id, { leftOut: [] })}>
                Take them in
              </button>
            </p>
          )}
          <ReadingCurves reading={shown} />
        </>
      )}
    </section>
  );
}
