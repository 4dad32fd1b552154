"use client";
import { useMemo, useState } from "react";
import { carried, type CarriedPart, type CarryWay } from "@/core/look/carry";
import type { Names } from "@/core/look/differences";
import { definitionOf } from "@/core/elements/registry";
import { elementsOf } from "@/core/look/edit";
import { filterOf } from "@/core/look/glass";
import { lacking, withStandIn } from "@/core/look/lacking";
import type { Look } from "@/core/look/look";
import { MAX_OVERALL } from "@/core/look/ranges";
import { commit } from "../shot/document";
import { setView, useView } from "../view/store";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { saveFile } from "../shared/download";
import { NumberField } from "../shared/number-field";
import { Lacks, type Substitutes } from "./lacks";
import { fileNameFor } from "./look-files";
import { useKeptLook } from "./kept-look";
import type { Offer } from "./offer";
import { PutOnSeveral } from "./put-on-several";
import { useShelf } from "./use-shelf";

const PARTS = {
  all: "All of it",
  glass: "Glass only",
  film: "Film only",
  print: "Print only",
  chosen: "Chosen elements",
};
type LookPart = keyof typeof PARTS;

/** The glass a look is made of, by its names. */
const glassOf = (look: Look, { nameOf }: Names): string[] => [
  ...(look.lens.profile ? [nameOf(look.lens.profile)] : []),
  ...elementsOf(look).flatMap((element) => {
    const filter = filterOf(element);
    return filter ? [`${nameOf(filter)} ${String(element.params.grade ?? "")}`.trim()] : [];
  }),
];

interface Props {
  offer: Offer;
  names: Names;
  onChanged(): void;
  onGone(): void;
}

/** One look of the shelf, once it is there. */
export function LookDetails(props: Props) {
  const own = useKeptLook(props.offer.kept);
  return own ? <Details {...props} own={own} /> : <p className="text-quiet">{props.offer.name} …</p>;
}

/** How much of a look, which part, and where to. */
function Details({ offer, own, names, onChanged, onGone }: Props & { own: Look }) {
  const { shot, look, cabinet, shots } = useShelf();
  const { compare } = useView("compare");
  const [strength, setStrength] = useState(own.strength);
  const [part, setPart] = useState<LookPart>("all");
  const [way, setWay] = useState<CarryWay>("instead");
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [standIns, setStandIns] = useState<Substitutes>({});
  const [several, setSeveral] = useState(false);
  const lacks = useMemo(
    () => lacking(own, { cabinet, shots, hasDepth: shot.hasDepth }),
    [own, cabinet, shots, shot.hasDepth],
  );
  /** The look with what stands in for what it lacks, and its strength. */
  const offered = useMemo(() => {
    const whole = lacks.reduce(
      (before, lack, i) =>
        lack.what === "depth"
          ? before
          : withStandIn(before, lack, i in standIns ? standIns[i]! : (lack.standIns[0]?.value ?? null)),
      own,
    );
    return strength === whole.strength ? whole : { ...whole, strength };
  }, [lacks, standIns, own, strength]);
  const carriedPart: CarriedPart = part === "chosen" ? chosen : part;
  const puts = (onto: Look) => carried(offered, onto, carriedPart, way);
  const show = () => setView({ preview: { look: puts(look), name: `${offer.name}, at ${strength.toFixed(2)} ×` } });
  const isOwn = offer.group === "Own";
  const glass = glassOf(own, names);
  return (
    <section
      aria-label={`The look ${offer.name}`}
      className="flex flex-col gap-2 rounded-md border border-line p-2"
      onPointerEnter={show}
      onPointerLeave={() => setView({ preview: null })}
    >
      <h3 className="font-semibold">{offer.name}</h3>
      {own.purpose && <p className="text-quiet">{own.purpose}</p>}
      {glass.length > 0 && <p className="text-quiet">{glass.join(", ")}</p>}
      {own.tags && <p className="text-quiet">{own.tags.join(" · ")}</p>}
      <Lacks look={own} lacks={lacks} standIns={standIns} onStandIns={setStandIns} />
      {part === "all" && way === "instead" && (
        <NumberField
          label="Strength"
          help="The look’s overall strength: 0 is the footage, 1 as it was made."
          unit="×"
          value={strength}
          min={0}
          max={MAX_OVERALL}
          step={0.01}
          reset={own.strength}
          mark={1}
          onChange={(next) => {
            setStrength(next);
            const worn = carried({ ...offered, strength: next }, look, "all", "instead");
            setView({ preview: { look: worn, name: `${offer.name}, at ${next.toFixed(2)} ×` } });
          }}
        />
      )}
      <div className="flex gap-1">
        <select
          className="select select-xs flex-1"
          aria-label="What of it"
          value={part}
          onChange={(event) => setPart(event.target.value as LookPart)}
        >
          {Object.entries(PARTS).map(([name, label]) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
        </select>
        <select
          className="select select-xs flex-1"
          aria-label="In place of what is there, or beside it"
          value={way}
          onChange={(event) => setWay(event.target.value as CarryWay)}
        >
          <option value="instead">In place of it</option>
          <option value="beside">Beside it</option>
        </select>
      </div>
      {part === "chosen" && (
        <ul aria-label="Elements to carry over" className="flex flex-col gap-0.5">
          {elementsOf(own).map(({ id, kind }) => (
            <li key={id}>
              <label className="flex items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  checked={chosen.includes(id)}
                  onChange={() => setChosen(chosen.includes(id) ? chosen.filter((one) => one !== id) : [...chosen, id])}
                />
                {definitionOf(kind).label}
              </label>
            </li>
          ))}
        </ul>
      )}
      <div className="flex flex-wrap gap-1">
        <button
          type="button"
          className="btn btn-xs btn-primary"
          disabled={part === "chosen" && !chosen.length}
          onClick={() => {
            commit(puts);
            setView({ preview: null, selected: null });
          }}
        >
          Put on this shot
        </button>
        <button type="button" className="btn btn-xs" aria-expanded={several} onClick={() => setSeveral(!several)}>
          On several shots …
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() =>
            setView({
              preview: null,
              compare: {
                ...compare,
                reference: { kind: offer.group === "On other shots" ? "shot" : "look", id: offer.id },
                way: compare.last,
              },
            })
          }
        >
          Compare
        </button>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => saveFile(fileNameFor(offer.name), `${JSON.stringify(offered, null, 2)}\n`, "application/json")}
        >
          Export
        </button>
        {isOwn && (
          <ConfirmButton
            label="Remove"
            name={`Remove the look ${offer.name}`}
            ask={() => Promise.resolve(`Remove “${offer.name}” from the library? Shots that wear it keep it.`)}
            confirm="Remove it"
            onConfirm={() =>
              api.removeLook(offer.id).then(() => {
                onGone();
                onChanged();
              })
            }
          />
        )}
      </div>
      {several && <PutOnSeveral puts={puts} names={names} onDone={onChanged} />}
    </section>
  );
}
