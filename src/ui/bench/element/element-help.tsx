import { definitionOf } from "@/core/elements/registry";
import { PassageDrawing } from "./passage";

/**
 * What an element is: its drawing with the light passing, what to look at, what its strength does, where its formula is
 * from.
 */
export function ElementHelp({ kind }: { kind: string }) {
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
