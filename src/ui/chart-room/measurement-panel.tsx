"use client";
import type { ReadingKind, ReadingOrder } from "@/core/measure/readings";
import { EncodingSelect } from "../shared/encodings";
import { FieldRow, FocalLengthField, StopField } from "./fields";
import { ReadingCurves } from "./curves";
import { changeOrder, measureAgain, stopMeasuring } from "./runner";
import { commonOf, lackOf, type Measurement, orderOf, readingShown, useSession } from "./session";
import { factsOf, KIND_WORDS } from "./words";

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
      <FieldRow name="What was shot">
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
      </FieldRow>
      <FocalLengthField value={order.focalLength} onSave={(focalLength) => put({ focalLength })} />
      {"stop" in order && <StopField value={order.stop} onSave={(stop) => put({ stop })} />}
      {order.kind === "pair" && (
        <FieldRow name="Grade">
          <input
            key={order.grade}
            className="input input-xs w-24"
            defaultValue={order.grade}
            maxLength={20}
            onBlur={({ target: { value } }) => value.trim() && value !== order.grade && put({ grade: value.trim() })}
          />
        </FieldRow>
      )}
      {order.kind === "grid" && (
        <FieldRow name="Model">
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
        </FieldRow>
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
      <FieldRow name="Encoding">
        <EncodingSelect
          label="Encoding of the frames"
          value={encoding}
          onChange={(name) => measureAgain(id, { pictures: pictures.map((one) => ({ ...one, encoding: name })) })}
        />
      </FieldRow>
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
