import "../shared/no-eval";
import { Follower, LOST, takeTemplate } from "../../core/track/follow";
import { fetchFrame } from "../engine/fetch-frame";
import type { TrackOrder, TrackReport } from "./messages";

/** Follows a region through a shot's frames, in a thread of its own; ended by ending the thread. */

/** Ended by ending the thread. */
const UNENDED = new AbortController().signal;

const send = (report: TrackReport) => postMessage(report);

const frameOf = (shotId: string, frame: number) =>
  fetchFrame(`/api/shots/${encodeURIComponent(shotId)}/frames/${frame}?divide=1&plane=light`, UNENDED);

async function follow({ shotId, frames, region, start, model }: TrackOrder): Promise<void> {
  const [first, ...rest] = frames;
  // The next frame is on its way while this one is looked at.
  let coming = frameOf(shotId, first!);
  const template = takeTemplate(await coming, region, start.pose, model);
  if (!template) throw new Error("There is nothing in this region to follow: it is even");
  const follower = new Follower(template, region, start);
  if (rest.length) coming = frameOf(shotId, rest[0]!);
  for (const [i, frame] of rest.entries()) {
    const picture = await coming;
    if (i + 1 < rest.length) coming = frameOf(shotId, rest[i + 1]!);
    const step = follower.next(frame, picture);
    if (step.confidence < LOST) return send({ kind: "lost", frame, confidence: step.confidence });
    send({ kind: "step", step, done: i + 1, of: rest.length });
  }
  send({ kind: "done" });
}

addEventListener("message", ({ data }: MessageEvent<TrackOrder>) => {
  follow(data).catch((error: Error) => send({ kind: "failed", reason: error.message }));
});
