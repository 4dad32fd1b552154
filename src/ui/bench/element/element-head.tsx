"use client";
import { Power, Trash2 } from "lucide-react";
import { definitionOf } from "@/core/elements/registry";
import { removeElement, switchElement, timedAt } from "@/core/look/edit";
import { MAX_STRENGTH } from "@/core/look/ranges";
import { setShown } from "@/core/look/timing";
import { NumberField } from "../../shared/number-field";
import { commit } from "../../shot/document";
import { useShownLook } from "../../shot/shown-look";
import { PICTURE } from "../../view/inspect";
import { setView, useView, viewNow } from "../../view/store";
import { KeyMark } from "../time/key-mark";
import { isMovedOtherwise } from "../fields/parameters";
import { SECTION_LABELS, SECTIONS, type Sections } from "./sections";

/** Strength on the track goes to three times measured; more can be typed. */
const TRACK_STRENGTH = 3;

/** What stays of an element's panel while the rest scrolls: its name, on, strength and mix, and the way to the rest. */
export function ElementHead({ id, sections }: { id: string; sections: Sections }) {
  const { look, at } = useShownLook();
  const { help } = useView("help");
  const element = at.elements.find((entry) => entry.id === id)!;
  const { kind, state, on } = element;
  const definition = definitionOf(kind);
  const isMoved = (name: string) => isMovedOtherwise(timedAt(look, [id, name]));
  return (
    <header className="flex shrink-0 flex-col gap-1.5 border-b border-line px-3 py-2">
      <div className="flex items-center gap-2">
        <h2 className="text-base font-semibold">{definition.label}</h2>
        <button
          type="button"
          className={`btn btn-xs ml-auto btn-square ${help ? "halo" : ""}`}
          aria-label={`What ${definition.label} is`}
          title={`What ${definition.label} is (F1)`}
          aria-expanded={help}
          onClick={() => setView({ help: !help })}
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
            setView({ selected: null, inspect: PICTURE });
          }}
        >
          <Trash2 size={12} />
        </button>
      </div>
      <NumberField
        label="Strength"
        help={definition.strengthLaw}
        unit="×"
        value={element.strength}
        min={definition.negative ? -TRACK_STRENGTH : 0}
        max={Math.max(TRACK_STRENGTH, Math.min(MAX_STRENGTH, element.strength))}
        step={0.01}
        reset={1}
        mark={1}
        disabled={isMoved("strength")}
        beside={<KeyMark path={[id, "strength"]} />}
        onChange={(strength) =>
          commit((now) => setShown(now, [id, "strength"], strength, element.strength, viewNow().frame))
        }
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
        onChange={(mix) => commit((now) => setShown(now, [id, "mix"], mix, state.mix, viewNow().frame))}
      />
      <div role="group" aria-label="Parts of the panel" className="join">
        {SECTIONS.map((name) => (
          <button
            key={name}
            type="button"
            data-to-section={name}
            className={`btn btn-xs join-item flex-1 ${sections.current === name ? "btn-primary" : ""}`}
            aria-pressed={sections.current === name}
            onClick={() => sections.go(name)}
          >
            {SECTION_LABELS[name]}
          </button>
        ))}
      </div>
    </header>
  );
}
