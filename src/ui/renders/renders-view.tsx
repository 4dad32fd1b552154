"use client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { ENCODINGS } from "@/core/colour/encodings";
import { countOf, firstOf, lastOf } from "@/core/frame/ranges";
import { depthLabel } from "@/core/image/image";
import { ConfirmButton } from "../shared/confirm-button";
import { useOwnEncodings } from "../shared/encodings";
import { Movies } from "./movies";
import { api } from "../shared/api";
import { shotTitle, useProductionTitle } from "../shared/production";
import { useWorkspace } from "../shared/workspace";
import type { ShotDetail } from "../../contract/shots";
import { type ListedRender, RENDER_FORMATS, RENDER_MOVIES, type RenderOrder } from "../../contract/renders";

const STATES: Record<ListedRender["state"], string> = {
  queued: "Queued",
  running: "Running",
  done: "Done",
  failed: "Failed in part",
  cancelled: "Cancelled",
};
const ALL_FORMATS = { ...RENDER_FORMATS, ...RENDER_MOVIES };
type FormatName = keyof typeof ALL_FORMATS;
const namesOf = (formats: object) => Object.keys(formats) as FormatName[];

/** How a render's files are coded, by the name it was ordered under. */
const formatLabel = ({ format, depth, compression }: ListedRender): string =>
  namesOf(RENDER_MOVIES).find(
    (name) =>
      ALL_FORMATS[name].format === format &&
      ALL_FORMATS[name].depth === depth &&
      (ALL_FORMATS[name] as { compression?: string }).compression === compression,
  ) ?? `${format.toUpperCase()} ${depthLabel(depth)}`;

const isEnded = ({ state }: ListedRender) => state === "done" || state === "failed" || state === "cancelled";

const removalWords = ({ id, done, movies, folder }: ListedRender) =>
  `Remove render ${id}${done ? `, its ${done === 1 ? "one frame" : `${done} frames`}` : ""}${movies.length ? ` and ${movies.join(", ")}` : ""} in renders/${folder}?`;

function secondsLeft({ frames, done, framesPerSecond }: ListedRender): string {
  if (!framesPerSecond) return "";
  const seconds = Math.ceil((countOf(frames) - done) / framesPerSecond);
  return seconds > 90 ? `${Math.ceil(seconds / 60)} min left` : `${seconds} s left`;
}

function Order({ onAdded }: { onAdded(): void }) {
  const { shotId } = useWorkspace();
  const shots = useQuery({ queryKey: ["shots"], queryFn: api.shots });
  const [chosen, setChosen] = useState<string | null>(null);
  const id = chosen ?? shotId ?? shots.data?.[0]?.id ?? "";
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
  const made = useOwnEncodings();
  const { frames } = shot;
  const { data: here } = useQuery({ queryKey: ["formats"], queryFn: api.formats, staleTime: Infinity });
  const [version, setVersion] = useState("now");
  const [format, setFormat] = useState<FormatName>("EXR half, ZIP");
  const [encoding, setEncoding] = useState("");
  const [carried, setCarried] = useState<NonNullable<RenderOrder["carried"]>>({ layers: "warp", overscan: "crop" });
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
      <label className="flex flex-col">
        Encoded as
        <select
          className="select select-sm w-52"
          value={encoding}
          onChange={(event) => setEncoding(event.target.value)}
        >
          <option value="">{isExr ? "working light" : "the look's view"}</option>
          {ENCODINGS.map(({ name, label }) => (
            <option key={name} value={name}>
              {label}
            </option>
          ))}
          {made
            .filter(({ kind }) => kind === "log")
            .map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
        </select>
      </label>
      {/* A row of its own: it stands still, whatever a format has to be said of. */}
      <div className="flex w-full items-end gap-3">
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={queue.isPending}
          onClick={() => queue.mutate()}
        >
          Queue the render
        </button>
        {isExr && (
          <>
            <label className="flex flex-col">
              Other layers
              <select
                className="select select-sm w-44"
                value={carried.layers}
                onChange={({ target: { value } }) => setCarried({ ...carried, layers: value as typeof carried.layers })}
              >
                <option value="warp">moved as the picture is</option>
                <option value="keep">as they are</option>
                <option value="drop">left out</option>
              </select>
            </label>
            <label className="flex flex-col">
              Beyond the frame
              <select
                className="select select-sm w-36"
                value={carried.overscan}
                onChange={({ target: { value } }) =>
                  setCarried({ ...carried, overscan: value as typeof carried.overscan })
                }
              >
                <option value="crop">cropped</option>
                <option value="keep">kept (overscan)</option>
              </select>
            </label>
          </>
        )}
      </div>
    </>
  );
}

/** What is queued, running and done. */
export function RendersView() {
  const client = useQueryClient();
  const renders = useQuery({
    queryKey: ["renders"],
    queryFn: api.renders,
    refetchInterval: ({ state }) => (state.data?.every(isEnded) ? 4000 : 600),
  });
  const shots = useQuery({ queryKey: ["shots"], queryFn: api.shots });
  // A shot that is gone has no name any more.
  const nameOf = (id: string) => {
    const shot = shots.data?.find((entry) => entry.id === id);
    return shot ? shotTitle(shot) : id;
  };
  const refresh = () => client.invalidateQueries({ queryKey: ["renders"] });
  const cancel = useMutation({ mutationFn: api.cancelRender, onSuccess: refresh });
  useProductionTitle();
  return (
    <div className="h-full overflow-y-auto p-4">
      <h1 className="mb-3 text-lg font-semibold">Renders</h1>
      <Order onAdded={() => void refresh()} />
      <table className="table-sm table">
        <thead>
          <tr>
            <th>No.</th>
            <th>Shot</th>
            <th>Version</th>
            <th>Format</th>
            <th>State</th>
            <th className="w-64">Progress</th>
            <th>Speed</th>
            <th>Folder</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {renders.data?.map((render) => (
            <tr key={render.id} data-render={render.id}>
              <td className="figures">{render.id}</td>
              <td>{nameOf(render.shotId)}</td>
              <td>{render.versionName}</td>
              <td>
                {formatLabel(render)}
                <p className="text-quiet">
                  {render.encoding ?? (render.format === "exr" ? "working light" : `${render.view.kind} view`)}
                </p>
              </td>
              <td>
                {STATES[render.state]}
                {render.losses.length > 0 && (
                  <p className="max-w-56 text-quiet">Not carried on: {render.losses.join("; ")}</p>
                )}
                {render.failed.map(({ frame, reason }) => (
                  <p key={frame} className="text-error">
                    {frame > 0 && `Frame ${frame}: `}
                    {reason}
                  </p>
                ))}
              </td>
              <td>
                <progress
                  className="progress w-full"
                  aria-label={`Progress of render ${render.id}`}
                  value={render.done}
                  max={countOf(render.frames)}
                />
                <span className="figures text-quiet">
                  {render.done} of {countOf(render.frames)} frames{" "}
                  {render.state === "running" ? secondsLeft(render) : ""}
                </span>
              </td>
              <td className="figures whitespace-nowrap">
                {render.framesPerSecond ? `${render.framesPerSecond.toFixed(2)} fps` : "—"}
              </td>
              <td className="figures text-quiet">renders/{render.folder}</td>
              <td>
                <div className="flex flex-wrap items-center gap-2">
                  {!isEnded(render) && (
                    <button type="button" className="btn btn-xs" onClick={() => cancel.mutate(render.id)}>
                      Cancel
                    </button>
                  )}
                  {render.state === "done" && <Movies render={render} onMade={() => void refresh()} />}
                  {isEnded(render) && (
                    <ConfirmButton
                      label="Remove"
                      name={`Remove render ${render.id}`}
                      ask={() => Promise.resolve(removalWords(render))}
                      confirm="Remove it"
                      onConfirm={() => api.removeRender(render.id).then(refresh)}
                    />
                  )}
                </div>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {renders.data?.length === 0 && (
        <p className="mt-6 text-center text-quiet">Nothing has been rendered yet. Choose a shot and a version above.</p>
      )}
    </div>
  );
}
