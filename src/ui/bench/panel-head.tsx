"use client";
import { useMemo } from "react";
import { definitionOf } from "@/core/elements/registry";
import { allCautions } from "@/core/judge/cautions";
import { elementsOf } from "@/core/look/edit";
import { MAX_OVERALL } from "@/core/look/ranges";
import { setShown } from "@/core/look/timing";
import { NumberField } from "../shared/number-field";
import { commit } from "../shot/document";
import { useShownLook } from "../shot/shown-look";
import { viewNow } from "../view/store";
import { useJudged } from "../pictures/judged";
import { KeyMark } from "./time/key-mark";
import { CautionList } from "./caution-list";

/**
 * The head of the panel: how much of the whole look there is, what is kept out of it, and all that is to be said of it.
 */
export function PanelHead() {
  const { look, at } = useShownLook();
  const judged = useJudged();
  const cautions = useMemo(() => allCautions(look, at, judged), [look, at, judged]);
  const keptOut = elementsOf(look).filter(({ keptOut: isOut }) => isOut);
  return (
    <header className="flex shrink-0 flex-col gap-1 border-b border-line px-3 py-2">
      <NumberField
        label="Overall strength"
        help="Multiplies every element’s strength but those kept out of it. 0 is the footage."
        unit="×"
        value={at.strength}
        min={0}
        max={MAX_OVERALL}
        step={0.01}
        reset={1}
        mark={1}
        beside={<KeyMark path={[null, "strength"]} />}
        onChange={(value) => commit((now) => setShown(now, [null, "strength"], value, at.strength, viewNow().frame))}
      />
      {keptOut.length > 0 && (
        <p className="text-quiet">Kept out: {keptOut.map(({ kind }) => definitionOf(kind).label).join(", ")}</p>
      )}
      <CautionList cautions={cautions} />
    </header>
  );
}
