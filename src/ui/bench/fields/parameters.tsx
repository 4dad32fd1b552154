"use client";
import { useState } from "react";
import { isRelevant, type Parameter, type ParameterValue } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import { setAll, setAt, timedAt } from "@/core/look/edit";
import { MAX_COLOUR, rangeOf, within } from "@/core/look/ranges";
import type { CurvePoints } from "@/core/maths/curve";
import { setShown } from "@/core/look/timing";
import { courseOf, type Timed } from "@/core/when/when";
import { CurveField } from "../../shared/curve-field";
import type { Colour } from "../../shared/colour-disc";
import { ColourField, TintDiscs } from "./colour-field";
import { ParameterField } from "./controls";
import { useShownLook } from "../../shot/shown-look";
import { commit } from "../../shot/document";
import { viewNow } from "../../view/store";
import { KeyMark } from "../time/key-mark";
import { WhichLight } from "./which-light";

type Named = [name: string, parameter: Parameter];

/** Parameters by their headings, in the order in which those first come: each stands once. */
function grouped(all: Named[]): { group: string | undefined; parameters: Named[] }[] {
  const groups = [...new Set(all.map(([, { group }]) => group))];
  return groups.map((group) => ({ group, parameters: all.filter(([, parameter]) => parameter.group === group) }));
}

const markOf = (measured: ParameterValue | undefined) => (typeof measured === "number" ? measured : undefined);

/** A course that is not keyframes leaves nothing to a control: it is set where the course is. */
export const isMovedOtherwise = (timed: Timed | undefined) =>
  timed !== undefined && ["ramp", "table"].includes(courseOf(timed));

/** Sets values of an element as the look is when they come: picks are answered later. */
function useLater(id: string) {
  return (values: Readonly<Record<string, ParameterValue>>) =>
    commit((look) =>
      setAll(
        look,
        Object.entries(values).map(([name, value]) => [[id, name], value]),
        viewNow().frame,
      ),
    );
}

/** Sets numbers of an element, each within its range. */
export function useNumbers(id: string, kind: string) {
  const later = useLater(id);
  return (values: Readonly<Record<string, number>>) => {
    const { parameters } = definitionOf(kind);
    later(
      Object.fromEntries(
        Object.entries(values).map(([name, value]) => {
          const { min, max } = rangeOf(parameters[name]!) ?? { min: -Infinity, max: Infinity };
          return [name, Number(within(value, min, max).toFixed(4))];
        }),
      ),
    );
  };
}

const CURVE_COLOURS: Record<string, string> = { red: "#ff8d7a", green: "#8fd694", blue: "#8fb4ff" };

/** Curves of one group: one is shown, the others a press away. */
function Curves({
  id,
  curves,
  values,
}: {
  id: string;
  curves: [string, Extract<Parameter, { type: "curve" }>][];
  values: Readonly<Record<string, ParameterValue>>;
}) {
  const [shown, setShown] = useState(curves[0]![0]);
  const [name, parameter] = curves.find(([entry]) => entry === shown) ?? curves[0]!;
  return (
    <>
      {curves.length > 1 && (
        <div role="group" aria-label="Curve" className="join">
          {curves.map(([entry, { label }]) => (
            <button
              key={entry}
              type="button"
              className={`btn btn-xs join-item ${entry === name ? "btn-primary" : ""}`}
              aria-pressed={entry === name}
              onClick={() => setShown(entry)}
            >
              {label}
            </button>
          ))}
        </div>
      )}
      <CurveField
        key={name}
        label={parameter.label}
        x={parameter.x}
        y={parameter.y}
        points={values[name] as CurvePoints}
        reset={parameter.default}
        presets={parameter.presets}
        colour={CURVE_COLOURS[name]}
        beside={<KeyMark path={[id, name]} />}
        onChange={(points) => commit((look) => setAt(look, [id, name], points, viewNow().frame))}
      />
    </>
  );
}

/** Everything of an element that is set, under its headings: each by the control that its definition asks for. */
export function Parameters({ id }: { id: string }) {
  const { look, at, cabinet } = useShownLook();
  const { kind, state } = at.elements.find((entry) => entry.id === id)!;
  const definition = definitionOf(kind);
  const { context } = at;
  const measured = (context.lens && definition.fromLens?.(context.lens)) ?? {};
  const put = (name: string, value: ParameterValue) =>
    commit((now) => setShown(now, [id, name], value, state.values[name], viewNow().frame));
  const later = useLater(id);
  const relevant = Object.entries(definition.parameters).filter(([, parameter]) => isRelevant(parameter, state.values));
  const keyed = definition.key?.(state);
  return grouped(relevant).map(({ group, parameters }) => {
    const curves = parameters.filter(
      (entry): entry is [string, Extract<Parameter, { type: "curve" }>] => entry[1].type === "curve",
    );
    const tints = parameters.flatMap(([name, parameter]) =>
      parameter.type === "triple" && parameter.tints ? [{ name, parameter }] : [],
    );
    const others = parameters.filter(([, p]) => p.type !== "curve" && !(p.type === "triple" && p.tints));
    return (
      <div key={group ?? ""} className="flex flex-col gap-2">
        {group && <h4 className="border-t border-line pt-1.5 font-semibold text-quiet">{group}</h4>}
        {keyed && parameters.some(([name]) => name === "threshold") && (
          <WhichLight id={id} taken={keyed} onSet={(name, value) => put(name, value)} />
        )}
        {tints.length > 0 && (
          <TintDiscs
            tints={tints.map(({ name, parameter }) => ({
              name,
              label: parameter.label.replace(" R, G, B", ""),
              help: parameter.help,
              value: state.values[name] as Colour,
              reset: parameter.default,
              min: parameter.min,
              max: parameter.max,
              beside: <KeyMark path={[id, name]} />,
              onChange: (value) => put(name, value),
            }))}
          />
        )}
        {others.map(([name, parameter]) =>
          parameter.type === "colour" ? (
            <ColourField
              key={name}
              id={`${id} ${name}`}
              before={id}
              label={parameter.label}
              help={parameter.help}
              value={state.values[name] as Colour}
              reset={parameter.default}
              largest={MAX_COLOUR}
              beside={<KeyMark path={[id, name]} />}
              onChange={(value) => later({ [name]: value })}
            />
          ) : (
            <ParameterField
              key={name}
              parameter={parameter as Exclude<Parameter, { type: "colour" | "curve" }>}
              value={state.values[name]!}
              values={state.values}
              cabinet={cabinet}
              mark={markOf(measured[name])}
              disabled={isMovedOtherwise(timedAt(look, [id, name]))}
              beside={<KeyMark path={[id, name]} />}
              onChange={(value) => put(name, value)}
            />
          ),
        )}
        {curves.length > 0 && <Curves id={id} curves={curves} values={state.values} />}
      </div>
    );
  });
}
