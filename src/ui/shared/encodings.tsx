"use client";
import { useQuery } from "@tanstack/react-query";
import { ENCODINGS } from "@/core/colour/encodings";
import { statedEncoding } from "@/core/colour/stated-primaries";
import { api } from "./api";

const FAMILIES = { linear: "Scene-linear", log: "Log", hdr: "High dynamic range", display: "For a display" } as const;

export const useOwnEncodings = () => useQuery({ queryKey: ["encodings"], queryFn: api.encodings }).data ?? [];

/** Choice of an encoding: those there are, by kind, and the user's own. */
export function EncodingSelect({
  value,
  onChange,
  label,
  mixed,
  without = [],
}: {
  value: string;
  onChange(name: string): void;
  label: string;
  mixed?: boolean;
  without?: string[];
}) {
  const made = useOwnEncodings();
  // What a file's header states by its numbers is in no list.
  const stated = mixed ? undefined : statedEncoding(value);
  return (
    <select
      className="select select-xs w-full min-w-0"
      aria-label={label}
      value={mixed ? "" : value}
      onChange={(event) => onChange(event.target.value)}
    >
      {mixed && <option value="">Several</option>}
      {stated && <option value={value}>{stated.label}</option>}
      {(Object.keys(FAMILIES) as (keyof typeof FAMILIES)[]).map((family) => (
        <optgroup key={family} label={FAMILIES[family]}>
          {ENCODINGS.filter((entry) => entry.family === family).map(({ name, label: words }) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </optgroup>
      ))}
      {made.length > 0 && (
        <optgroup label="Your own">
          {made
            .filter(({ id }) => !without.includes(id))
            .map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
        </optgroup>
      )}
    </select>
  );
}

export function useEncodingLabel(): (name: string) => string {
  const made = useOwnEncodings();
  return (name) =>
    (ENCODINGS.find((entry) => entry.name === name) ?? statedEncoding(name))?.label ??
    made.find(({ id }) => id === name)?.name ??
    name;
}
