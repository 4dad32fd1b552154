"use client";
import { useShots } from "../../shared/production";
import { offered } from "@/core/profile/profiles";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import type { Parameter, ParameterValue } from "@/core/elements/definition";
import type { Cabinet } from "@/core/profile/profiles";
import { api } from "../../shared/api";
import { useShownLook } from "../../shot/shown-look";
import { NumberField } from "../../shared/number-field";

const CHANNELS = ["red", "green", "blue"] as const;
/** Lines under the fields, by what they stand for. */
const PART_COLOURS: Record<string, string> = {
  red: "#ff8d7a",
  green: "#8fd694",
  blue: "#8fb4ff",
  yellow: "#e8d66a",
  cyan: "#6fd6d6",
  magenta: "#e58fe0",
};

function TripleField({
  parameter,
  value,
  beside,
  onChange,
}: {
  parameter: Extract<Parameter, { type: "triple" }>;
  value: readonly [number, number, number];
  beside?: ReactNode;
  onChange(value: [number, number, number]): void;
}) {
  const { min, max, step, unit, parts = CHANNELS } = parameter;
  const label = parameter.label.replace(" R, G, B", "");
  return (
    <fieldset className="grid grid-cols-[7.5rem_1fr] items-center gap-2" title={parameter.help}>
      <legend className="sr-only">{parameter.label}</legend>
      <span className="truncate" onDoubleClick={() => onChange([...parameter.default])}>
        {label}
      </span>
      <span className="flex items-center gap-1">
        {parts.map((part, c) => (
          <input
            key={part}
            type="number"
            className="figures w-full min-w-0 rounded border-b-2 bg-base-300 px-1 py-0.5 text-right"
            style={{ borderColor: PART_COLOURS[part] }}
            aria-label={`${label}, ${part}${unit ? `, ${unit}` : ""}`}
            min={min}
            max={max}
            step={step}
            value={value[c]}
            onChange={(event) => {
              const number = event.target.valueAsNumber;
              if (!Number.isFinite(number)) return;
              const next = [...value] as [number, number, number];
              next[c] = Math.min(max, Math.max(min, number));
              onChange(next);
            }}
          />
        ))}
        {unit && <span className="w-16 shrink-0 text-quiet">{unit}</span>}
        {beside}
      </span>
    </fieldset>
  );
}

const Row = ({ label, help, children }: { label: string; help: string; children: React.ReactNode }) => (
  <label className="grid grid-cols-[7.5rem_1fr] items-center gap-2" title={help}>
    <span className="truncate">{label}</span>
    {children}
  </label>
);

/** Another shot of the production, by its name. */
export function FootageField({
  parameter,
  none = "None",
  value,
  onChange,
}: {
  parameter: Pick<Parameter, "label" | "help">;
  none?: string;
  value: string;
  onChange(value: string): void;
}) {
  const shots = useShots();
  const elsewhere = useQuery({ queryKey: ["shots"], queryFn: api.shots }).data;
  const isListed = !value || shots.data?.some(({ id }) => id === value);
  return (
    <Row label={parameter.label} help={parameter.help}>
      <select className="select select-xs w-full" value={value} onChange={(event) => onChange(event.target.value)}>
        <option value="">{none}</option>
        {!isListed && (
          <option value={value}>
            {value} {elsewhere && !elsewhere.some(({ id }) => id === value) ? "(not there)" : ""}
          </option>
        )}
        {shots.data?.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </Row>
  );
}

/** One of the look's tracks. */
function TrackField({
  parameter,
  value,
  onChange,
}: {
  parameter: Pick<Parameter, "label" | "help">;
  value: string;
  onChange(value: string): void;
}) {
  const { look } = useShownLook();
  const tracks = look.tracks ?? [];
  return (
    <Row label={parameter.label} help={parameter.help}>
      <select className="select select-xs w-full" value={value} onChange={(event) => onChange(event.target.value)}>
        <option value="">{tracks.length ? "None" : "There is no track yet"}</option>
        {tracks.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </Row>
  );
}

/** The control that a parameter's definition asks for; colours and curves have controls of their own. */
export function ParameterField({
  parameter,
  value,
  values,
  cabinet,
  mark,
  disabled,
  beside,
  onChange,
}: {
  parameter: Parameter;
  value: ParameterValue;
  /** The measured value, where it is a number that was measured. */
  mark?: number;
  /** Something else moves it. */
  disabled?: boolean;
  /** Beside the value: how it is timed. */
  beside?: ReactNode;
  values: Record<string, ParameterValue>;
  cabinet: Cabinet;
  onChange(value: ParameterValue): void;
}) {
  switch (parameter.type) {
    case "number":
      return (
        <NumberField
          {...parameter}
          value={value as number}
          reset={mark ?? parameter.default}
          mark={mark}
          disabled={disabled}
          beside={beside}
          onChange={onChange}
        />
      );
    case "triple":
      return (
        <TripleField
          parameter={parameter}
          value={value as [number, number, number]}
          beside={beside}
          onChange={onChange}
        />
      );
    case "toggle":
      return (
        <Row label={parameter.label} help={parameter.help}>
          <input
            type="checkbox"
            className="toggle toggle-xs"
            checked={value as boolean}
            onChange={(event) => onChange(event.target.checked)}
          />
        </Row>
      );
    case "track":
      return <TrackField parameter={parameter} value={String(value)} onChange={onChange} />;
    case "footage":
      return <FootageField parameter={parameter} value={String(value)} onChange={onChange} />;
    default: {
      const filters = offered(cabinet.filters.values(), String(values.profile)).map(
        ({ id, name }) => [id, name] as const,
      );
      const grades = cabinet.filters.get(String(values.profile))?.grades ?? [];
      const options =
        parameter.type === "choice"
          ? Object.entries(parameter.options)
          : parameter.type === "filter"
            ? filters
            : grades.map(({ grade }) => [grade, grade] as [string, string]);
      return (
        <Row label={parameter.label} help={parameter.help}>
          <select
            className="select select-xs w-full"
            value={String(value)}
            onChange={(event) => onChange(event.target.value)}
          >
            {options.map(([name, label]) => (
              <option key={name} value={name}>
                {label}
              </option>
            ))}
          </select>
        </Row>
      );
    }
  }
}
