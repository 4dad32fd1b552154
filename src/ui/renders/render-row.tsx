"use client";
import { useMutation } from "@tanstack/react-query";
import { toast } from "sonner";
import { countOf } from "@/core/frame/ranges";
import { depthLabel } from "@/core/image/image";
import { MAX_PRIORITY, type RenderChange } from "../../contract/farm";
import { folderLabel, type ListedRender, RENDER_MOVIES } from "../../contract/renders";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { saveFile } from "../shared/download";
import { ALL_FORMATS, namesOf } from "./formats";
import { Movies } from "./movies";

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

export const isEnded = ({ state }: ListedRender) => state === "done" || state === "failed" || state === "cancelled";

const removalWords = ({ id, done, movies, folder }: ListedRender) =>
  `Remove render ${id}${done ? `, its ${done === 1 ? "one frame" : `${done} frames`}` : ""}${movies.length ? ` and ${movies.join(", ")}` : ""} in ${folderLabel(folder)}?`;

function secondsLeft({ frames, done, framesPerSecond }: ListedRender): string {
  if (!framesPerSecond) return "";
  const seconds = Math.ceil((countOf(frames) - done) / framesPerSecond);
  return seconds > 90 ? `${Math.ceil(seconds / 60)} min left` : `${seconds} s left`;
}

interface Props {
  render: ListedRender;
  /** As people know it. */
  shot: string;
  /** The one that is taken first of those that wait or are made. */
  next: ListedRender | null;
  onOpen(): void;
  onChanged(): void;
}

/** A render with how far it is, and what can be done with it. */
export function RenderRow({ render, shot, next, onOpen, onChanged }: Props) {
  const settled = { onSuccess: onChanged, onError: (error: Error) => toast.error(error.message) };
  const cancel = useMutation({ mutationFn: () => api.cancelRender(render.id), ...settled });
  const again = useMutation({ mutationFn: () => api.renderAgain(render.id), ...settled });
  const change = useMutation({ mutationFn: (wanted: RenderChange) => api.changeRender(render.id, wanted), ...settled });
  const saveManifest = useMutation({
    mutationFn: () => api.renderManifest(render.id),
    onSuccess: (manifest) =>
      saveFile(
        `${manifest.shot.replaceAll(/[{}]/g, "")} manifest.json`,
        JSON.stringify(manifest, null, 1),
        "application/json",
      ),
    onError: settled.onError,
  });
  return (
    <tr data-render={render.id}>
      <td className="figures">{render.id}</td>
      <td>{shot}</td>
      <td>
        {render.versionName}
        {render.madeBy && <p className="text-quiet">by {render.madeBy}</p>}
      </td>
      <td>
        {formatLabel(render)}
        <p className="text-quiet">
          {render.encoding ?? (render.format === "exr" ? "working light" : `${render.view.kind} view`)}
        </p>
      </td>
      <td>
        {render.paused && !isEnded(render) ? "Paused" : STATES[render.state]}
        {render.losses.length > 0 && <p className="max-w-56 text-quiet">Not carried on: {render.losses.join("; ")}</p>}
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
      <td className="figures text-quiet">{folderLabel(render.folder)}</td>
      <td>
        <div className="flex flex-wrap items-center gap-2">
          <button
            type="button"
            className="btn btn-xs"
            aria-label={`Look at render ${render.id}`}
            title="Its frames as they come, played, and held against the footage, the Bench or another render"
            onClick={onOpen}
          >
            Look at it
          </button>
          {!isEnded(render) && (
            <>
              <button
                type="button"
                className="btn btn-xs"
                title={render.paused ? "Goes on where it was" : "The frame in hand is finished, and no other begun"}
                onClick={() => change.mutate({ paused: !render.paused })}
              >
                {render.paused ? "Go on" : "Pause"}
              </button>
              {next && next.id !== render.id && (
                <button
                  type="button"
                  className="btn btn-xs"
                  title="Made before all others that wait"
                  onClick={() => change.mutate({ priority: Math.min(next.priority + 1, MAX_PRIORITY) })}
                >
                  Make it first
                </button>
              )}
              <button type="button" className="btn btn-xs" onClick={() => cancel.mutate()}>
                Cancel
              </button>
            </>
          )}
          {isEnded(render) && (
            <button
              type="button"
              className="btn btn-xs"
              title="Every file with its length and hash"
              onClick={() => saveManifest.mutate()}
            >
              Manifest
            </button>
          )}
          {(render.state === "failed" || render.state === "cancelled") && (
            <button
              type="button"
              className="btn btn-xs"
              title="Makes the frames that are missing; finished ones stay"
              onClick={() => again.mutate()}
            >
              Go on
            </button>
          )}
          {render.state === "done" && <Movies render={render} onMade={() => onChanged()} />}
          {isEnded(render) && (
            <ConfirmButton
              label="Remove"
              name={`Remove render ${render.id}`}
              ask={() => Promise.resolve(removalWords(render))}
              confirm="Remove it"
              onConfirm={() => api.removeRender(render.id).then(onChanged)}
            />
          )}
        </div>
      </td>
    </tr>
  );
}
