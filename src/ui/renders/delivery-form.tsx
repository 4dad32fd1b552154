"use client";
import { useMutation, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { firstOf } from "@/core/frame/ranges";
import { type Delivery, MAX_HANDLES, MAX_RENDERS } from "../../contract/deliveries";
import { compactDate, fileNameBy, namingProblem, stemFrom, stemOfShot } from "../../contract/naming";
import { RENDER_FORMATS, RENDER_MOVIES } from "../../contract/renders";
import type { ShotDetail } from "../../contract/shots";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { shotTitle, useShots } from "../shared/production";
import { BesidesField, type CarriedOn, CarriedFields, EncodedAs, IntoField, SlateField } from "./fields";
import { ALL_FORMATS, FIRST_DELIVERY, type FormatName, isExr, isOneFile, namesOf } from "./formats";

const CROPPED: CarriedOn = { layers: "warp", overscan: "crop" };

/** A look of a shot that goes into the delivery: a version by its number, or (null) as it is now. */
interface Chosen {
  shotId: string;
  versionId: number | null;
}
const isSame = (a: Chosen, b: Chosen) => a.shotId === b.shotId && a.versionId === b.versionId;

const Box = ({ label, checked, onToggle }: { label: string; checked: boolean; onToggle(): void }) => (
  <label className="flex cursor-pointer items-center gap-1.5">
    <input type="checkbox" className="checkbox checkbox-xs" checked={checked} onChange={onToggle} />
    <span className="truncate">{label}</span>
  </label>
);

/** Which shots, and which of their looks. */
function ShotRows({
  shots,
  chosen,
  onChosen,
}: {
  shots: readonly ShotDetail[];
  chosen: readonly Chosen[];
  onChosen(chosen: Chosen[]): void;
}) {
  const toggle = (one: Chosen) =>
    onChosen(
      chosen.some((other) => isSame(one, other)) ? chosen.filter((other) => !isSame(one, other)) : [...chosen, one],
    );
  return (
    <ul aria-label="Shots of the delivery" className="max-h-56 overflow-y-auto rounded border border-line">
      {shots.map((shot) => (
        <li key={shot.id} className="flex flex-wrap gap-x-4 gap-y-0.5 border-b border-line px-2 py-1 last:border-0">
          <span className="w-64 truncate">{shotTitle(shot)}</span>
          {[
            { id: null, label: "as it is now" },
            ...shot.versions.map(({ id, number, name }) => ({ id, label: `${number}. ${name}` })),
          ].map(({ id, label }) => {
            const one = { shotId: shot.id, versionId: id };
            return (
              <Box
                key={String(id)}
                label={label}
                checked={chosen.some((other) => isSame(one, other))}
                onToggle={() => toggle(one)}
              />
            );
          })}
        </li>
      ))}
    </ul>
  );
}

/** Names as the files will bear them. */
function previewOf(shots: readonly ShotDetail[], chosen: readonly Chosen[], delivery: Delivery): string[] {
  const { naming, formats, handles, only } = delivery;
  const date = compactDate();
  return chosen.flatMap(({ shotId, versionId }) => {
    const shot = shots.find(({ id }) => id === shotId);
    if (!shot) return [];
    const version = versionId === null ? "now" : (shot.versions.find(({ id }) => id === versionId)?.name ?? "");
    const stem = stemFrom(naming, { shot: stemOfShot(shot), version, date });
    // Handles go no further than the footage.
    const begins = Math.max(firstOf(shot.frames), only?.first ?? 0) - handles;
    const first = String(handles ? Math.max(begins, firstOf(shot.footage.frames)) : begins).padStart(4, "0");
    return formats.map((format) =>
      fileNameBy(stem, ALL_FORMATS[format].format, isOneFile(format)).replace("%04d", first),
    );
  });
}

/** Several shots and versions rendered the same way, in one or more formats; the way may be kept by a name. */
export function DeliveryForm({ onAdded }: { onAdded(): void }) {
  const client = useQueryClient();
  const listed = useShots();
  const details = useQueries({
    queries: (listed.data ?? []).map(({ id }) => ({ queryKey: ["shot", id], queryFn: () => api.shot(id) })),
  });
  const shots = details.flatMap(({ data }) => data ?? []);
  const kept = useQuery({ queryKey: ["deliveries"], queryFn: api.deliveries });
  const { data: here } = useQuery({ queryKey: ["formats"], queryFn: api.formats, staleTime: Infinity });
  const [delivery, setDelivery] = useState<Delivery>(FIRST_DELIVERY);
  const [chosen, setChosen] = useState<Chosen[]>([]);
  const [name, setName] = useState("");
  const put = (change: Partial<Delivery>) => setDelivery({ ...delivery, ...change });
  const refresh = () => client.invalidateQueries({ queryKey: ["deliveries"] });
  const queue = useMutation({
    mutationFn: () => api.queueDelivery({ delivery, of: chosen }),
    onSuccess: ({ ids }) => {
      toast(ids.length === 1 ? "One render is queued" : `${ids.length} renders are queued`);
      onAdded();
    },
  });
  const keep = useMutation({ mutationFn: () => api.keepDelivery(name.trim(), delivery), onSuccess: refresh });
  const problem = namingProblem(delivery.naming);
  const names = problem ? [] : previewOf(shots, chosen, delivery);
  const isTwice = new Set(names).size < names.length;
  const own = kept.data?.find((one) => one.name === name.trim());
  const toggleFormat = (format: FormatName) => {
    const formats = delivery.formats.includes(format)
      ? delivery.formats.filter((other) => other !== format)
      : [...delivery.formats, format];
    if (formats.length) put({ formats });
  };
  const number = (label: string, value: number | "", set: (value: number | null) => void, max: number) => (
    <label className="flex flex-col">
      {label}
      <input
        type="number"
        className="input input-sm figures w-24"
        min={0}
        max={max}
        value={value}
        onChange={({ target }) => set(Number.isFinite(target.valueAsNumber) ? target.valueAsNumber : null)}
      />
    </label>
  );
  const { only } = delivery;
  return (
    <section
      aria-label="New delivery"
      className="mb-4 flex flex-col gap-3 rounded-md border border-line bg-base-200 p-3"
    >
      <div className="flex flex-wrap items-end gap-3">
        <label className="flex flex-col">
          Kept delivery
          <select
            className="select select-sm w-52"
            value={own?.id ?? ""}
            onChange={({ target }) => {
              const found = kept.data?.find(({ id }) => String(id) === target.value);
              if (!found) return;
              setDelivery(found.delivery);
              setName(found.name);
            }}
          >
            <option value="">{kept.data?.length ? "Choose one" : "None is kept yet"}</option>
            {kept.data?.map((one) => (
              <option key={one.id} value={one.id}>
                {one.name}
              </option>
            ))}
          </select>
        </label>
        <label className="flex flex-col">
          Name of the delivery
          <input
            className="input input-sm w-52"
            value={name}
            maxLength={120}
            placeholder="for example Facility, EXR"
            onChange={({ target }) => setName(target.value)}
          />
        </label>
        <button
          type="button"
          className="btn btn-sm"
          disabled={!name.trim() || problem !== null || keep.isPending}
          onClick={() => keep.mutate()}
        >
          {own ? "Keep in its place" : "Keep"}
        </button>
        {own && (
          <ConfirmButton
            label="Remove"
            name={`Remove the delivery ${own.name}`}
            ask={() => Promise.resolve(`Remove the delivery ${own.name}? What was rendered stays.`)}
            confirm="Remove it"
            onConfirm={() => api.removeDelivery(own.id).then(refresh)}
          />
        )}
      </div>
      <ShotRows shots={shots} chosen={chosen} onChosen={setChosen} />
      <fieldset className="flex flex-wrap gap-x-5 gap-y-1">
        <legend className="mb-1 text-quiet">Formats</legend>
        {[...namesOf(RENDER_FORMATS), ...(here?.movies ? namesOf(RENDER_MOVIES) : [])].map((format) => (
          <Box
            key={format}
            label={format}
            checked={delivery.formats.includes(format)}
            onToggle={() => toggleFormat(format)}
          />
        ))}
      </fieldset>
      <div className="flex flex-wrap items-end gap-3">
        {number("Handles, frames", delivery.handles, (handles) => put({ handles: handles ?? 0 }), MAX_HANDLES)}
        {number(
          "Only from frame",
          only?.first ?? "",
          (first) => put({ only: first === null ? null : { first, last: Math.max(first, only?.last ?? first) } }),
          1e9,
        )}
        {number(
          "to frame",
          only?.last ?? "",
          (last) => put({ only: last === null ? null : { first: Math.min(last, only?.first ?? last), last } }),
          1e9,
        )}
        <label className="flex flex-col">
          Names
          <input
            className="input input-sm figures w-72"
            value={delivery.naming}
            maxLength={160}
            aria-invalid={problem !== null}
            onChange={({ target }) => put({ naming: target.value })}
          />
        </label>
        <span className="text-quiet">{"{shot} {version} {date} {frame}"}</span>
      </div>
      <div className="flex flex-wrap items-end gap-3">
        <EncodedAs
          value={delivery.encoding ?? ""}
          own="as each format has it"
          onChange={(encoding) => put({ encoding: encoding || null })}
        />
        <IntoField roots={here?.renderRoots ?? []} value={delivery.into} onChange={(into) => put({ into })} />
        <BesidesField value={delivery.besides} onChange={(besides) => put({ besides })} />
        <SlateField value={delivery.slate} onChange={(slate) => put({ slate })} />
        {delivery.formats.some(isExr) && (
          <CarriedFields value={delivery.carried ?? CROPPED} onChange={(carried) => put({ carried })} />
        )}
      </div>
      {problem && (
        <p role="alert" className="text-error">
          Names: {problem}
        </p>
      )}
      <div className="flex items-end gap-3">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={!chosen.length || problem !== null || names.length > MAX_RENDERS || queue.isPending}
          onClick={() => queue.mutate()}
        >
          {names.length === 1 ? "Queue one render" : `Queue ${names.length} renders`}
        </button>
        <ul aria-label="Names as they will be" className="figures max-h-16 min-w-0 flex-1 overflow-y-auto text-quiet">
          {names.map((one, i) => (
            <li key={i} className="truncate">
              {one}
            </li>
          ))}
        </ul>
      </div>
      {isTwice && (
        <p className="text-warning">
          Some bear one name: each render has a folder of its own, so nothing is written over.
        </p>
      )}
    </section>
  );
}
