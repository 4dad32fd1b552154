import { kindAt } from "../when/when";
import type { Kind } from "../when/generator";
import type { Timed } from "../when/when";
import type { Where } from "../where/schema";

/** What is timed, by the name of what it moves. */
export type When = Record<string, Timed>;

const WHERE = "where.";
export const AREAS = "where.areas.";

/** What an element has beside its parameters. */
const OWN = ["on", "strength", "mix", "keptOut", "where"];

/** Where in an element a name leads: its own switches and numbers, a path into its area, or a parameter. */
export const namesInElement = (name: string): string[] =>
  OWN.includes(name) || name.startsWith(WHERE) ? name.split(".") : ["params", name];

/** What a path into `where` leads to, as something that may be timed; null for every other name. */
export const kindInWhere = (where: Where | undefined, name: string): Kind | null =>
  name.startsWith(WHERE) ? kindAt({ where }, name.split(".")) : null;

/** What is timed, with areas by their ids, where a file names them by their number in the list. */
export function namedById(when: When | undefined, where: Where | undefined): When | undefined {
  if (!when || !where) return when;
  return Object.fromEntries(
    Object.entries(when).map(([name, timed]) => {
      if (!name.startsWith(AREAS)) return [name, timed];
      const [area, ...rest] = name.slice(AREAS.length).split(".");
      const id = /^\d+$/.test(area!) ? where.areas[Number(area)]?.id : undefined;
      return [id === undefined ? name : `${AREAS}${[id, ...rest].join(".")}`, timed];
    }),
  );
}

/** What is still timed once an area is gone, or (no id) all of them. Undefined where nothing is. */
export function withoutArea(when: When | undefined, id?: string): When | undefined {
  const gone = id === undefined ? WHERE : `${AREAS}${id}.`;
  const left = Object.entries(when ?? {}).filter(([name]) => !name.startsWith(gone));
  return left.length ? Object.fromEntries(left) : undefined;
}
