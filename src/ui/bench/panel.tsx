"use client";
import { Power, Trash2 } from "lucide-react";
import { useMemo } from "react";
import { type ParameterValue, type Values, workOf } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import { type LookAtFrame, valueAtFrame } from "@/core/look/at-frame";
import { elementNamed, elementsOf, removeElement, setAll, setAt, switchElement, timedAt } from "@/core/look/edit";
import type { Look } from "@/core/look/look";
import { depthLabel } from "@/core/image/image";
import { heldMeasurements } from "@/core/profile/reach";
import type { Cabinet } from "@/core/profile/profiles";
import { ResponsePlot } from "../shared/plot";
import { PassageDrawing } from "./passage";
import { CautionList } from "./caution-list";
import { allCautions, cautionsOf } from "@/core/judge/cautions";
import type { Judged } from "@/core/judge/judge";
import { NumberField } from "../shared/number-field";
import { setShown } from "@/core/look/timing";
import { isMovedOtherwise, Parameters, useNumbers } from "./parameters";
import { LensDataFields } from "./lens-data";
import { PickButton } from "./pick-button";
import { TrackList } from "./track/track-list";
import { KeyMark } from "./time/key-mark";
import { DecisionList } from "./decision-list";
import { DepthFields } from "./depth-fields";
import { PICTURE } from "./inspect";
import { commit } from "./document";
import { useBench } from "./store";
import { WhereFields } from "./where-fields";
import { ViewFields } from "./view-fields";
import { LARGEST_OVERALL, LARGEST_STRENGTH } from "@/core/look/ranges";
import { cornerHeight } from "@/core/frame/geometry";
import type { ShotDetail } from "../../contract/shots";

/** T-stops on the track, and where a lens says nothing of its own. */
const WIDEST_STOP = 1;
const SMALLEST_STOP = 32;
const USUAL_STOP = 2.8;
const USUAL_STOPS = [1.4, 2, 2.8, 4, 5.6, 8];

/** Strength on the track goes to three times measured; more can be typed. */
const TRACK_STRENGTH = 3;

const Cautions = ({ said }: { said: string[] }) =>
  said.map((caution) => (
    <p key={caution} className="border-l-2 border-warning pl-2 text-warning">
      {caution}
    </p>
  ));

/** What an element is: its drawing with the light passing, what to look at, what its strength does, where its formula is from. */
function ElementHelp({ kind }: { kind: string }) {
  const { advice, strengthLaw, source } = definitionOf(kind);
  const entry = (term: string, words: string) => (
    <div>
      <dt className="text-quiet">{term}</dt>
      <dd>{words}</dd>
    </div>
  );
  return (
    <section aria-label="What it is" className="rounded-md border border-line p-2">
      <PassageDrawing kind={kind} />
      <dl className="flex flex-col gap-1.5">
        {entry("What to look at, and how it is overdone", advice)}
        {entry("Strength", strengthLaw)}
        {entry("Source", source)}
      </dl>
    </section>
  );
}

function ElementPanel({ look, at, id }: { look: Look; at: LookAtFrame; id: string }) {
  const { set, inspect, frame, help } = useBench();
  const matte = inspect.kind === "matte";
  const { context, elements } = at;
  const element = elements.find((entry) => entry.id === id)!;
  const { kind, state, on } = element;
  const definition = definitionOf(kind);
  const keptOut = elementNamed(look, id).keptOut ?? false;
  const put = (name: string, value: ParameterValue) =>
    commit((now) => setShown(now, [id, name], value, valueAtFrame(at, [id, name]), frame));
  const response = useMemo(() => definition.response(state, context), [definition, JSON.stringify(state), context]); // eslint-disable-line react-hooks/exhaustive-deps
  const cautions = cautionsOf(element, context);
  const isMoved = (name: string) => isMovedOtherwise(timedAt(look, [id, name]));
  const setNumbers = useNumbers(id, kind);
  return (
    <div className="flex flex-col gap-2">
      <header className="flex items-center gap-2">
        <h2 className="text-base font-semibold">{definition.label}</h2>
        <button
          type="button"
          className={`btn btn-xs ml-auto btn-square ${help ? "halo" : ""}`}
          aria-label={`What ${definition.label} is`}
          title={`What ${definition.label} is (F1)`}
          aria-expanded={help}
          onClick={() => set({ help: !help })}
        >
          ?
        </button>
        <button
          type="button"
          className={`btn btn-xs ${on ? "" : "text-quiet"}`}
          aria-pressed={on}
          onClick={() => commit((now) => switchElement(now, id, !on))}
        >
          <Power size={12} /> {on ? "On" : "Off"}
        </button>
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label={`Remove ${definition.label}`}
          onClick={() => {
            commit((now) => removeElement(now, id));
            set({ selected: null, inspect: PICTURE });
          }}
        >
          <Trash2 size={12} />
        </button>
      </header>
      <p className="text-quiet">{definition.summary}</p>
      {help && <ElementHelp kind={kind} />}
      <NumberField
        label="Strength"
        help={definition.strengthLaw}
        unit="×"
        value={element.strength}
        min={definition.negative ? -TRACK_STRENGTH : 0}
        max={Math.max(TRACK_STRENGTH, Math.min(LARGEST_STRENGTH, element.strength))}
        step={0.01}
        reset={1}
        mark={1}
        disabled={isMoved("strength")}
        beside={<KeyMark path={[id, "strength"]} />}
        onChange={(strength) => commit((now) => setShown(now, [id, "strength"], strength, element.strength, frame))}
      />
      <NumberField
        label="Mix"
        help="How much of the result is laid over what came in."
        unit=""
        value={state.mix}
        min={0}
        max={1}
        step={0.01}
        reset={1}
        disabled={isMoved("mix")}
        beside={<KeyMark path={[id, "mix"]} />}
        onChange={(mix) => commit((now) => setShown(now, [id, "mix"], mix, state.mix, frame))}
      />
      {(at.strength !== 1 || keptOut) && (
        <label
          className="grid grid-cols-[7.5rem_1fr] items-center gap-2"
          title="It acts at its own strength, whatever the overall strength is."
        >
          <span>Kept out</span>
          <span className="flex items-center gap-2">
            <input
              type="checkbox"
              className="toggle toggle-xs"
              checked={keptOut}
              onChange={(event) => put("keptOut", event.target.checked)}
            />
            <span className="text-quiet">
              {keptOut ? "of the overall strength" : `with overall strength: ${state.strength.toFixed(2)} ×`}
            </span>
          </span>
        </label>
      )}
      <Cautions said={cautions} />
      <h3 className="border-b border-line pt-1 font-semibold">What</h3>
      <ResponsePlot response={response} height={150} onSet={setNumbers} />
      {definition.key?.(state) && (
        <button
          type="button"
          className="btn btn-xs self-start"
          aria-pressed={matte}
          onClick={() => set({ inspect: matte ? PICTURE : { kind: "matte" } })}
        >
          {matte ? "Back to the picture" : "Show the matte"}
        </button>
      )}
      {definition.presets && (
        <label
          className="grid grid-cols-[7.5rem_1fr] items-center gap-2"
          title="Sets the values below; they can be changed from there."
        >
          <span>Begin from</span>
          <select
            className="select select-xs w-full"
            value={
              definition.presets.find(({ values }) =>
                Object.entries(values).every(
                  ([name, value]) => JSON.stringify(state.values[name]) === JSON.stringify(value),
                ),
              )?.name ?? ""
            }
            onChange={(event) => {
              const preset = definition.presets!.find(({ name }) => name === event.target.value);
              const values = Object.entries((preset?.values ?? {}) as Values);
              if (preset)
                commit((now) =>
                  setAll(
                    now,
                    values.map(([name, value]) => [[id, name], value]),
                    frame,
                  ),
                );
            }}
          >
            <option value="">Values of its own</option>
            {definition.presets.map(({ name }) => (
              <option key={name} value={name}>
                {name}
              </option>
            ))}
          </select>
        </label>
      )}
      {definition.exchanges === "cdl" && <DecisionList look={look} id={id} state={state} />}
      {definition.picks && (
        <PickButton
          label={definition.picks.label}
          id={id}
          before={id}
          take={(light) => setNumbers(definition.picks!.take(light) as Record<string, number>)}
        />
      )}
      <Parameters id={id} />
      <WhereFields look={look} id={id} movesLight={workOf(definition, state).kind !== "point"} />
    </div>
  );
}

function CameraPanel({ shot, look, at, cabinet }: { shot: ShotDetail; look: Look; at: LookAtFrame; cabinet: Cabinet }) {
  const { set, frame } = useBench();
  const lenses = [...new Map([...cabinet.lenses.values()].map((lens) => [lens.id, lens])).values()];
  const { context } = at;
  const lens = context.lens ?? undefined;
  const put = (name: string, value: number) =>
    commit((now) => setShown(now, [null, name], value, valueAtFrame(at, [null, name]), frame));
  const isMoved = (name: string) => isMovedOtherwise(timedAt(look, [null, name]));
  const row = "grid grid-cols-[7.5rem_1fr] items-center gap-2";
  return (
    <div className="flex flex-col gap-2">
      <h2 className="text-base font-semibold">Camera and lens</h2>
      <p className="text-quiet">
        Pick a piece of glass on the light path to work on it, or{" "}
        <button type="button" className="underline underline-offset-2" onClick={() => set({ shelf: "looks" })}>
          begin from a look
        </button>
        .
      </p>
      <p className={row}>
        <span>Sensor</span>
        <span className="figures">
          {look.camera.sensor.width} × {look.camera.sensor.height} mm
        </span>
      </p>
      <p className={row}>
        <span>Footage</span>
        <span className="figures">
          {shot.footage.width} × {shot.footage.height}, {depthLabel(shot.footage.depth)}, {shot.encoding}
        </span>
      </p>
      <label className={row}>
        <span>Lens</span>
        <select
          className="select select-xs w-full"
          value={lens?.id ?? ""}
          onChange={(event) => {
            const chosen = cabinet.lenses.get(event.target.value);
            const own = chosen?.focalLengths?.[0];
            commit((now) => {
              const named = setAt(now, [null, "lens.profile"], chosen?.id ?? null, frame);
              return own ? setAt(named, [null, "lens.focalLength"], own, frame) : named;
            });
          }}
        >
          <option value="">No lens profile</option>
          {lenses.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      </label>
      <NumberField
        label="Focal length"
        unit="mm"
        value={context.focalLength}
        min={8}
        max={300}
        step={1}
        reset={lens?.focalLengths?.[0] ?? 50}
        logarithmic
        disabled={isMoved("lens.focalLength")}
        beside={<KeyMark path={[null, "lens.focalLength"]} />}
        onChange={(focalLength) => put("lens.focalLength", focalLength)}
      />
      <NumberField
        label="Stop"
        help={lens?.stops ? `Measured at T${lens.stops.join(", T")}; between them it is interpolated.` : undefined}
        unit="T-stop"
        value={context.stop}
        min={WIDEST_STOP}
        max={SMALLEST_STOP}
        step={0.1}
        reset={lens?.stops?.[0] ?? USUAL_STOP}
        logarithmic
        disabled={isMoved("lens.stop")}
        beside={<KeyMark path={[null, "lens.stop"]} />}
        onChange={(stop) => put("lens.stop", stop)}
      />
      <div role="group" aria-label="Stops that were measured" className="flex flex-wrap gap-1">
        {(lens?.stops ?? USUAL_STOPS).map((stop) => (
          <button
            key={stop}
            type="button"
            className={`btn btn-xs figures ${context.stop === stop ? "halo" : ""}`}
            aria-pressed={context.stop === stop}
            disabled={isMoved("lens.stop")}
            onClick={() => put("lens.stop", stop)}
          >
            T{stop}
          </button>
        ))}
      </div>
      <NumberField
        label="Focus"
        help="Distance the lens is focused on."
        unit="m"
        value={context.focusDistance}
        min={0.2}
        max={500}
        step={0.1}
        reset={3}
        logarithmic
        disabled={isMoved("lens.focusDistance")}
        beside={<KeyMark path={[null, "lens.focusDistance"]} />}
        onChange={(focusDistance) => put("lens.focusDistance", focusDistance)}
      />
      {lens && (
        <Cautions
          said={Object.values(heldMeasurements(lens, { ...context, corner: cornerHeight(context.geometry) }))}
        />
      )}
      <LensDataFields />
      <DepthFields shot={shot} />
      <ViewFields look={look} />
      <TrackList />
      <WhereFields look={look} id={null} movesLight={false} />
    </div>
  );
}

/** The head of the panel: how much of the whole look there is, what is kept out of it, and all that is to be said of it. */
function PanelHead({ look, at, judged }: { look: Look; at: LookAtFrame; judged: Judged | null }) {
  const { frame } = useBench();
  const cautions = useMemo(() => allCautions(look, at, judged), [look, at, judged]);
  const keptOut = elementsOf(look).filter(({ keptOut: isOut }) => isOut);
  return (
    <header className="mb-2 flex flex-col gap-1 border-b border-line pb-2">
      <NumberField
        label="Overall strength"
        help="Multiplies every element’s strength but those kept out of it. 0 is the footage."
        unit="×"
        value={at.strength}
        min={0}
        max={LARGEST_OVERALL}
        step={0.01}
        reset={1}
        mark={1}
        beside={<KeyMark path={[null, "strength"]} />}
        onChange={(value) => commit((now) => setShown(now, [null, "strength"], value, at.strength, frame))}
      />
      {keptOut.length > 0 && (
        <p className="text-quiet">Kept out: {keptOut.map(({ kind }) => definitionOf(kind).label).join(", ")}</p>
      )}
      <CautionList cautions={cautions} />
    </header>
  );
}

export function Panel(props: {
  shot: ShotDetail;
  look: Look;
  at: LookAtFrame;
  cabinet: Cabinet;
  judged: Judged | null;
}) {
  const { selected } = useBench();
  const isThere = selected && elementsOf(props.look).some(({ id }) => id === selected);
  return (
    <aside
      aria-label="Selected element"
      className="relative h-full overflow-y-auto border-l border-line bg-base-200 p-3"
    >
      <PanelHead look={props.look} at={props.at} judged={props.judged} />
      {isThere ? <ElementPanel key={selected} {...props} id={selected} /> : <CameraPanel {...props} />}
    </aside>
  );
}
