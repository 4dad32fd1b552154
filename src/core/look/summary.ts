import { glassIn, platesIn } from "./glass";
import type { Look } from "./look";

/** What lists tell of a look, and what it takes by name: kept beside looks, which may be large. */
export interface LookSummary {
  name: string;
  purpose: string | null;
  tags: string[];
  view: Look["view"];
  /** Id of the table it is seen through. */
  table: string | null;
  /** Ids of the shots laid over it. */
  shots: string[];
  /** Profiles it names, whether they act or not. */
  glass: string[];
}

export const summaryOf = (look: Look): LookSummary => ({
  name: look.name,
  purpose: look.purpose ?? null,
  tags: look.tags ?? [],
  view: look.view,
  table: look.view.kind === "lut" ? (look.view.lut ?? null) : null,
  shots: [...new Set(platesIn(look))],
  glass: glassIn(look),
});
