"use client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { countOf } from "@/core/frame/ranges";
import { depthLabel } from "@/core/image/image";
import { type ListedRender, RENDER_MOVIES } from "../../contract/renders";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { saveFile } from "../shared/download";
import { shotTitle, useProductionTitle } from "../shared/production";
import { DeliveryForm } from "./delivery-form";
import { ALL_FORMATS, namesOf } from "./formats";
import { Movies } from "./movies";
import { Order } from "./order-form";

const STATES: Record<ListedRender["state"], string> = {
  queued: "Queued",
  running: "Running",
  done: "Done",
  failed: "Failed in part",
  cancelled: "Cancelled",
};
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
  const [isDelivery, setDelivery] = useState(false);
  const cancel = useMutation({ mutationFn: api.cancelRender, onSuccess: refresh });
  const again = useMutation({ mutationFn: api.renderAgain, onSuccess: refresh });
  const saveManifest = useMutation({
    mutationFn: api.renderManifest,
    onSuccess: (manifest) =>
      saveFile(
        `${manifest.shot.replaceAll(/[{}]/g, "")} manifest.json`,
        JSON.stringify(manifest, null, 1),
        "application/json",
      ),
  });
  useProductionTitle();
  return (
    <div className="h-full overflow-y-auto p-4">
      <div className="mb-3 flex items-center gap-4">
        <h1 className="text-lg font-semibold">Renders</h1>
        <div role="group" aria-label="What to queue" className="join">
          {[false, true].map((many) => (
            <button
              key={String(many)}
              type="button"
              className={`btn btn-xs join-item ${isDelivery === many ? "halo" : ""}`}
              aria-pressed={isDelivery === many}
              onClick={() => setDelivery(many)}
            >
              {many ? "A delivery of several" : "One render"}
            </button>
          ))}
        </div>
      </div>
      {isDelivery ? <DeliveryForm onAdded={() => void refresh()} /> : <Order onAdded={() => void refresh()} />}
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
                  {render.done} of {countOf(render.frames)} {countOf(render.frames) === 1 ? "frame" : "frames"}{" "}
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
                  {isEnded(render) && (
                    <button
                      type="button"
                      className="btn btn-xs"
                      title="Every file with its length and hash"
                      onClick={() => saveManifest.mutate(render.id)}
                    >
                      Manifest
                    </button>
                  )}
                  {(render.state === "failed" || render.state === "cancelled") && (
                    <button
                      type="button"
                      className="btn btn-xs"
                      title="Makes the frames that are missing; finished ones stay"
                      onClick={() => again.mutate(render.id)}
                    >
                      Go on
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
