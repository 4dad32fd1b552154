"use client";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { slateProblem } from "@/core/slate/slate";
import { firstOf, lastOf } from "@/core/frame/ranges";
import { type Beside, RENDER_FORMATS, RENDER_MOVIES } from "../../contract/renders";
import type { ShotDetail } from "../../contract/shots";
import { api } from "../shared/api";
import { shotTitle, useShots } from "../shared/production";
import { useWorkspace } from "../shared/workspace";
import { BesidesField, type CarriedOn, CarriedFields, EncodedAs, IntoField, type Place, SlateField } from "./fields";
import { ALL_FORMATS, type FormatName, namesOf } from "./formats";

/** One shot in one format. */
export function Order({ onAdded }: { onAdded(): void }) {
  const { shotId } = useWorkspace();
  const shots = useShots();
  const [chosen, setChosen] = useState<string | null>(null);
  const isHere = (wanted: string | null) => shots.data?.some((entry) => entry.id === wanted);
  const id = [chosen, shotId].find(isHere) ?? shots.data?.[0]?.id ?? "";
  const shot = useQuery({ queryKey: ["shot", id], queryFn: () => api.shot(id), enabled: id !== "" });
  return (
    <section
      aria-label="New render"
      className="mb-4 flex flex-wrap items-end gap-3 rounded-md border border-line bg-base-200 p-3"
    >
      <label className="flex flex-col">
        Shot
        <select className="select select-sm w-52" value={id} onChange={(event) => setChosen(event.target.value)}>
          {shots.data?.map((entry) => (
            <option key={entry.id} value={entry.id}>
              {shotTitle(entry)}
            </option>
          ))}
        </select>
      </label>
      {shot.data && (
        <OrderDetails key={`${shot.data.id} ${shot.data.versions.length}`} shot={shot.data} onAdded={onAdded} />
      )}
    </section>
  );
}

function OrderDetails({ shot, onAdded }: { shot: ShotDetail; onAdded(): void }) {
  const { frames } = shot;
  const { data: here } = useQuery({ queryKey: ["formats"], queryFn: api.formats, staleTime: Infinity });
  const [version, setVersion] = useState("now");
  const [format, setFormat] = useState<FormatName>("EXR half, ZIP");
  const [encoding, setEncoding] = useState("");
  const [carried, setCarried] = useState<CarriedOn>({ layers: "warp", overscan: "crop" });
  const [into, setInto] = useState<Place | null>(null);
  const [slate, setSlate] = useState<string | null>(null);
  const [besides, setBesides] = useState<Beside[]>([]);
  const isExr = ALL_FORMATS[format].format === "exr";
  const [first, setFirst] = useState(firstOf(frames));
  const [last, setLast] = useState(lastOf(frames));
  const added = async () => {
    const chosen = shot.versions.find(({ id }) => String(id) === version);
    return api.addRender({
      shotId: shot.id,
      versionName: chosen?.name ?? "the look as it is now",
      look: chosen ? (await api.version(shot.id, chosen.id)).body : (await api.currentLook(shot.id)).look,
      ...ALL_FORMATS[format],
      encoding: encoding || null,
      ...(isExr ? { carried } : {}),
      into,
      slate: isExr ? null : slate,
      besides,
      first,
      last,
    });
  };
  const queue = useMutation({ mutationFn: added, onSuccess: onAdded });
  const number = (label: string, value: number, set: (value: number) => void) => (
    <label className="flex flex-col">
      {label}
      <input
        type="number"
        className="input input-sm figures w-20"
        min={firstOf(frames)}
        max={lastOf(frames)}
        value={value}
        onChange={(event) => Number.isFinite(event.target.valueAsNumber) && set(event.target.valueAsNumber)}
      />
    </label>
  );
  return (
    <>
      <label className="flex flex-col">
        Version
        <select className="select select-sm w-56" value={version} onChange={(event) => setVersion(event.target.value)}>
          <option value="now">The look as it is now</option>
          {shot.versions.map((entry) => (
            <option key={entry.id} value={entry.id}>
              {entry.number}. {entry.name}
            </option>
          ))}
        </select>
      </label>
      {number("From frame", first, setFirst)}
      {number("To frame", last, setLast)}
      <label className="flex flex-col">
        Format
        <select
          className="select select-sm w-44"
          value={format}
          onChange={(event) => setFormat(event.target.value as FormatName)}
        >
          <optgroup label="Frames">
            {namesOf(RENDER_FORMATS).map((name) => (
              <option key={name}>{name}</option>
            ))}
          </optgroup>
          {here?.movies && (
            <optgroup label="One movie, with its sound">
              {namesOf(RENDER_MOVIES).map((name) => (
                <option key={name}>{name}</option>
              ))}
            </optgroup>
          )}
        </select>
      </label>
      <EncodedAs value={encoding} own={isExr ? "working light" : "the look's view"} onChange={setEncoding} />
      {/* A row of its own, whose end stands still, whatever a format has to be said of. */}
      <div className="flex w-full items-end gap-3">
        <IntoField roots={here?.renderRoots ?? []} value={into} onChange={setInto} />
        {isExr ? (
          <CarriedFields value={carried} onChange={setCarried} />
        ) : (
          <SlateField value={slate} onChange={setSlate} />
        )}
        <BesidesField value={besides} onChange={setBesides} />
        <button
          type="button"
          className="btn btn-sm btn-primary ml-auto"
          disabled={queue.isPending || (!isExr && slate !== null && slateProblem(slate) !== null)}
          onClick={() => queue.mutate()}
        >
          Queue the render
        </button>
      </div>
    </>
  );
}
