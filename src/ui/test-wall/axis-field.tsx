"use client";
import { useState } from "react";
import { definitionOf } from "@/core/elements/registry";
import { elementsOf } from "@/core/look/edit";
import { offered } from "@/core/profile/profiles";
import { type Axis, AXIS_LABELS, type AxisKind, axisSchema, MAX_STEPS } from "@/core/wall/axis";
import type { Choices } from "./choices";
import { firstAxis } from "./first-axis";

interface Props {
  label: string;
  axis: Axis | null;
  choices: Choices;
  onAxis(axis: Axis | null): void;
}

/** What changes along a side of the wall, and its values. */
export function AxisField({ label, axis, choices, onAxis }: Props) {
  return (
    <fieldset className="flex flex-col gap-1 border-t border-line pt-2">
      <legend className="sr-only">{label}</legend>
      <label className="grid grid-cols-[3.25rem_1fr] items-center gap-2">
        <span>{label}</span>
        <select
          className="select select-xs w-full"
          aria-label={`${label}: what changes`}
          value={axis?.kind ?? ""}
          onChange={({ target }) => onAxis(target.value ? firstAxis(target.value as AxisKind, choices) : null)}
        >
          <option value="">Nothing</option>
          {(Object.keys(AXIS_LABELS) as AxisKind[]).map((kind) => (
            <option key={kind} value={kind} disabled={firstAxis(kind, choices) === null}>
              {AXIS_LABELS[kind]}
            </option>
          ))}
        </select>
      </label>
      {axis && <Values label={label} axis={axis} choices={choices} onAxis={onAxis} />}
    </fieldset>
  );
}

type ValuesProps = Props & { axis: Axis };

function Values(props: ValuesProps) {
  const { axis, choices, label, onAxis } = props;
  const { cabinet } = choices;
  switch (axis.kind) {
    case "lens":
      return (
        <CheckList
          label={`${label}: lenses`}
          options={offered(cabinet.lenses.values()).map(({ id, name }) => [id, name])}
          chosen={axis.values}
          onChosen={(values) => onAxis({ ...axis, values })}
        />
      );
    case "filter":
      return <FilterValues {...props} axis={axis} />;
    case "look":
      return (
        <CheckList
          label={`${label}: looks`}
          options={choices.looks.map(({ id, name }) => [id, name])}
          chosen={axis.values}
          onChosen={(values) => onAxis({ ...axis, values })}
        />
      );
    case "version":
      return (
        <CheckList
          label={`${label}: versions`}
          options={choices.versions.map(({ id, number, name }) => [String(id), `${number}. ${name}`])}
          chosen={axis.values}
          onChosen={(values) => onAxis({ ...axis, values })}
        />
      );
    case "parameter":
      return <ParameterValues {...props} axis={axis} />;
    default:
      return <NumberValues {...props} axis={axis} />;
  }
}

/** Some of a list, in the list's order. At least one stays, and no more than a side has room for. */
function CheckList({
  label,
  options,
  chosen,
  onChosen,
}: {
  label: string;
  options: readonly (readonly [id: string, name: string])[];
  chosen: readonly string[];
  onChosen(chosen: string[]): void;
}) {
  const toggle = (id: string) => {
    const next = options
      .map(([own]) => own)
      .filter((own) => (own === id ? !chosen.includes(id) : chosen.includes(own)));
    if (next.length && next.length <= MAX_STEPS) onChosen(next);
  };
  return (
    <ul aria-label={label} className="max-h-[28vh] overflow-y-auto rounded border border-line">
      {options.map(([id, name]) => (
        <li key={id}>
          <label className="flex cursor-pointer items-center gap-2 px-2 py-0.5 hover:bg-base-300">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={chosen.includes(id)}
              onChange={() => toggle(id)}
            />
            <span className="truncate">{name}</span>
          </label>
        </li>
      ))}
    </ul>
  );
}

function FilterValues({ label, axis, choices, onAxis }: ValuesProps & { axis: Extract<Axis, { kind: "filter" }> }) {
  const idOf = ({ profile, grade }: { profile: string; grade: string }) => JSON.stringify([profile, grade]);
  const all = offered(choices.cabinet.filters.values()).flatMap(({ id, name, grades }) =>
    grades.map(({ grade }) => ({ profile: id, grade, name: `${name} ${grade}` })),
  );
  return (
    <CheckList
      label={`${label}: filters`}
      options={all.map((one) => [idOf(one), one.name])}
      chosen={axis.values.map(idOf)}
      onChosen={(chosen) =>
        onAxis({
          ...axis,
          values: all.filter((one) => chosen.includes(idOf(one))).map(({ profile, grade }) => ({ profile, grade })),
        })
      }
    />
  );
}

/** Values as they are written, one after another; `read` gives the axis they make, or throws in words. */
function WrittenValues({ label, text, onText }: { label: string; text: string; onText(text: string): string | null }) {
  const [problem, setProblem] = useState<string | null>(null);
  return (
    <>
      <input
        key={text}
        className="input input-xs figures w-full"
        aria-label={label}
        aria-invalid={problem !== null}
        defaultValue={text}
        onBlur={({ target }) => target.value !== text && setProblem(onText(target.value))}
        onKeyDown={({ key, currentTarget }) => key === "Enter" && currentTarget.blur()}
      />
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
    </>
  );
}

const itemsOf = (text: string) =>
  text
    .split(/[,;\s]+/)
    .map((item) => item.trim())
    .filter(Boolean);

/** Puts an axis that was written, if it is one; else says what is wrong with it. */
function put(axis: unknown, onAxis: (axis: Axis) => void): string | null {
  const read = axisSchema.safeParse(axis);
  if (read.success) onAxis(read.data);
  return read.success ? null : `Write up to ${MAX_STEPS} numbers with commas: ${read.error.issues[0]!.message}`;
}

const UNITS: Partial<Record<AxisKind, string>> = { stop: "T-stops", focalLength: "mm", strength: "%" };

function NumberValues({ label, axis, onAxis }: ValuesProps & { axis: Extract<Axis, { values: number[] }> }) {
  // Strengths are percent on the page, and multiples of what was measured inside.
  const factor = axis.kind === "strength" ? 100 : 1;
  return (
    <label className="flex flex-col gap-1">
      <span className="text-quiet">{UNITS[axis.kind]}, with commas</span>
      <WrittenValues
        label={`${label}: ${AXIS_LABELS[axis.kind].toLowerCase()}`}
        text={axis.values.map((value) => Number((value * factor).toFixed(4))).join(", ")}
        onText={(text) => put({ kind: axis.kind, values: itemsOf(text).map((item) => Number(item) / factor) }, onAxis)}
      />
    </label>
  );
}

/** Parameters whose values can be written or ticked. */
const isListed = (type: string) => ["number", "choice", "toggle"].includes(type);

function ParameterValues({
  label,
  axis,
  choices,
  onAxis,
}: ValuesProps & { axis: Extract<Axis, { kind: "parameter" }> }) {
  const elements = elementsOf(choices.look);
  const element = elements.find(({ id }) => id === axis.element) ?? elements[0]!;
  const definition = definitionOf(element.kind);
  const own = definition.parameters[axis.parameter];
  const parameters: [string, string][] = [
    ["strength", "Strength"],
    ["mix", "Mix"],
    ...Object.entries(definition.parameters)
      .filter(([, { type }]) => isListed(type))
      .map(([name, parameter]): [string, string] => [name, parameter.label]),
  ];
  const begin = (id: string, parameter: string) =>
    onAxis(firstAxis("parameter", choices, { element: id, parameter }) ?? axis);
  return (
    <>
      <select
        className="select select-xs w-full"
        aria-label={`${label}: element`}
        value={element.id}
        onChange={({ target }) => begin(target.value, "strength")}
      >
        {elements.map(({ id, kind }) => (
          <option key={id} value={id}>
            {definitionOf(kind).label}
          </option>
        ))}
      </select>
      <select
        className="select select-xs w-full"
        aria-label={`${label}: parameter`}
        value={axis.parameter}
        onChange={({ target }) => begin(element.id, target.value)}
      >
        {parameters.map(([name, text]) => (
          <option key={name} value={name}>
            {text}
          </option>
        ))}
      </select>
      {own?.type === "choice" ? (
        <CheckList
          label={`${label}: values`}
          options={Object.entries(own.options)}
          chosen={axis.values.map(String)}
          onChosen={(values) => onAxis({ ...axis, values })}
        />
      ) : own?.type === "toggle" ? (
        <p className="text-quiet">Off, then on</p>
      ) : (
        <WrittenValues
          label={`${label}: values`}
          text={axis.values.join(", ")}
          onText={(text) => put({ ...axis, values: itemsOf(text).map(Number) }, onAxis)}
        />
      )}
    </>
  );
}
