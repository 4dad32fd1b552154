"use client";
import { Power, Trash2 } from "lucide-react";
import { Fragment, useMemo } from "react";
import { hasSay, type Parameter, type Values, workOf } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import { frameContext } from "@/core/engine/compile";
import { LARGEST_STRENGTH, type Look, resolveElement } from "@/core/look/look";
import { depthLabel } from "@/core/image/image";
import { heldMeasurements } from "@/core/profile/reach";
import type { Cabinet } from "@/core/profile/profiles";
import type { ShotDetail } from "../shared/api";
import { ResponsePlot } from "../shared/plot";
import { cautionsOf } from "./cautions";
import { NumberField, ParameterField } from "./controls";
import { DecisionList } from "./decision-list";
import { DepthFields } from "./depth-fields";
import { ReadyLooks } from "./ready-looks";
import { edit, elementsOf, useBench } from "./store";
import { WhereFields } from "./where-fields";
import { ViewFields } from "./view-fields";

/** Strength on the track goes to three times measured; more can be typed. */
const TRACK_STRENGTH = 3;

const Cautions = ({ said }: { said: string[] }) =>
  said.map((caution) => (
    <p key={caution} className="border-l-2 border-warning pl-2 text-warning">
      {caution}
    </p>
  ));

function ElementPanel({ shot, look, cabinet, id }: { shot: ShotDetail; look: Look; cabinet: Cabinet; id: string }) {
  const { change, set, matte, frame } = useBench();
  const element = elementsOf(look).find((entry) => entry.id === id)!;
  const definition = definitionOf(element.kind);
  const context = useMemo(
    () =>
      frameContext(look, cabinet, {
        width: shot.footage.width,
        height: shot.footage.height,
        frame,
        sourceKey: "",
        hasDepth: shot.hasDepth,
      }),
    [look, cabinet, shot, frame],
  );
  const state = resolveElement(element, context.lens);
  const response = useMemo(() => definition.response(state, context), [definition, JSON.stringify(state), context]); // eslint-disable-line react-hooks/exhaustive-deps
  const cautions = cautionsOf(element, context);
  return (
    <div className="flex flex-col gap-2">
      <header className="flex items-center gap-2">
        <h2 className="text-base font-semibold">{definition.label}</h2>
        <button
          type="button"
          className={`btn btn-xs ml-auto ${element.on ? "" : "text-quiet"}`}
          aria-pressed={element.on}
          onClick={() => change(`switch ${id}`, edit.element(look, id, { on: !element.on }))}
        >
          <Power size={12} /> {element.on ? "On" : "Off"}
        </button>
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label={`Remove ${definition.label}`}
          onClick={() => {
            change(`remove ${id}`, edit.remove(look, id));
            set({ selected: null, matte: false, area: null });
          }}
        >
          <Trash2 size={12} />
        </button>
      </header>
      <p className="text-quiet">{definition.summary}</p>
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
        onChange={(strength) => change(`strength ${id}`, edit.element(look, id, { strength }))}
      />
      <NumberField
        label="Mix"
        help="How much of the result is laid over what came in."
        unit=""
        value={element.mix}
        min={0}
        max={1}
        step={0.01}
        reset={1}
        onChange={(mix) => change(`mix ${id}`, edit.element(look, id, { mix }))}
      />
      <Cautions said={cautions} />
      <h3 className="border-b border-line pt-1 font-semibold">What</h3>
      <ResponsePlot response={response} height={150} />
      {definition.key?.(state) && (
        <button
          type="button"
          className="btn btn-xs self-start"
          aria-pressed={matte}
          onClick={() => set({ matte: !matte })}
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
              if (preset)
                change(
                  `preset ${id}`,
                  edit.element(look, id, { params: { ...element.params, ...(preset.values as Values) } }),
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
      {element.kind === "trim" && <DecisionList look={look} id={id} />}
      {inGroups(Object.entries(definition.parameters))
        .filter(([, parameter]) => hasSay(parameter, state.values))
        .map(([name, parameter], i, all) => (
          <Fragment key={name}>
            {parameter.group && parameter.group !== all[i - 1]?.[1].group && (
              <h4 className="border-t border-line pt-1.5 font-semibold text-quiet">{parameter.group}</h4>
            )}
            <ParameterField
              parameter={parameter}
              value={state.values[name]!}
              values={state.values}
              cabinet={cabinet}
              onChange={(value) => change(`${name} ${id}`, edit.parameter(look, id, name, value))}
            />
          </Fragment>
        ))}
      <p className="text-quiet">{definition.advice}</p>
      <WhereFields look={look} id={id} movesLight={workOf(definition, state).kind !== "point"} />
    </div>
  );
}

/** Parameters of one group together, groups in the order in which they first come: a heading stands once. */
function inGroups(all: [string, Parameter][]): [string, Parameter][] {
  const groups = [...new Set(all.map(([, { group }]) => group))];
  return groups.flatMap((group) => all.filter(([, parameter]) => parameter.group === group));
}

function CameraPanel({ shot, look, cabinet }: { shot: ShotDetail; look: Look; cabinet: Cabinet }) {
  const { change } = useBench();
  const lenses = [...new Map([...cabinet.lenses.values()].map((lens) => [lens.id, lens])).values()];
  const lens = look.lens.profile ? cabinet.lenses.get(look.lens.profile) : undefined;
  const setLens = (next: Partial<Look["lens"]>) =>
    change(`lens ${Object.keys(next).join()}`, { ...look, lens: { ...look.lens, ...next } });
  const row = "grid grid-cols-[7.5rem_1fr] items-center gap-2";
  return (
    <div className="flex flex-col gap-2">
      <h2 className="text-base font-semibold">Camera and lens</h2>
      <p className="text-quiet">Pick a piece of glass on the light path to work on it.</p>
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
            setLens({
              profile: chosen?.id ?? null,
              ...(chosen?.focalLengths?.[0] ? { focalLength: chosen.focalLengths[0] } : {}),
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
        value={look.lens.focalLength}
        min={8}
        max={300}
        step={1}
        reset={lens?.focalLengths?.[0] ?? 50}
        logarithmic
        onChange={(focalLength) => setLens({ focalLength })}
      />
      <label className={row}>
        <span>Stop</span>
        <select
          className="select select-xs w-full"
          value={look.lens.stop}
          onChange={(event) => setLens({ stop: Number(event.target.value) })}
        >
          {[...new Set([...(lens?.stops ?? [1.4, 2, 2.8, 4, 5.6, 8]), look.lens.stop])]
            .sort((a, b) => a - b)
            .map((stop) => (
              <option key={stop} value={stop}>
                T{stop}
              </option>
            ))}
        </select>
      </label>
      <NumberField
        label="Focus"
        help="Distance the lens is focused on."
        unit="m"
        value={look.lens.focusDistance}
        min={0.2}
        max={500}
        step={0.1}
        reset={3}
        logarithmic
        onChange={(focusDistance) => setLens({ focusDistance })}
      />
      {lens && (
        <Cautions
          said={Object.values(
            heldMeasurements(lens, {
              ...look.lens,
              corner: Math.hypot(look.camera.sensor.width, look.camera.sensor.height) / 2,
            }),
          )}
        />
      )}
      <DepthFields shot={shot} />
      <ViewFields look={look} />
      <ReadyLooks look={look} cabinet={cabinet} />
      <WhereFields look={look} id={null} movesLight={false} />
    </div>
  );
}

export function Panel(props: { shot: ShotDetail; look: Look; cabinet: Cabinet }) {
  const { selected } = useBench();
  const isThere = selected && elementsOf(props.look).some(({ id }) => id === selected);
  return (
    <aside
      aria-label="Selected element"
      className="relative h-full overflow-y-auto border-l border-line bg-base-200 p-3"
    >
      {isThere ? <ElementPanel key={selected} {...props} id={selected} /> : <CameraPanel {...props} />}
    </aside>
  );
}
