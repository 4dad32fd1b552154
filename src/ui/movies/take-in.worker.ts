import "../shared/no-eval";
import { ALL_FORMATS, BlobSource, Input, type InputVideoTrack, type VideoSample, VideoSampleSink } from "mediabunny";
import type { TakeInOrder, TakeInReport } from "./messages";
import { formatOf, packPlanes, turn, y4mFile } from "./planes";

/**
 * Decodes a movie and sends its frames, one file each, in the decoder's own samples. What is there already is not sent
 * again.
 */

const tell = (report: TakeInReport) => postMessage(report);
/** Frames on their way to the server at once. */
const IN_FLIGHT = 3;
/** Frames looked at to find the rate. */
const RATE_PACKETS = 400;

async function fileOf(
  sample: VideoSample,
  rate: number,
): Promise<{ bytes: Uint8Array<ArrayBuffer>; extension: string }> {
  const { format, visibleRect, rotation, colorSpace } = sample;
  const own = format && formatOf(format);
  if (!own) return { bytes: await pngOf(sample), extension: "png" };
  const data = new Uint8Array(sample.allocationSize());
  const layout = await sample.copyTo(data);
  const frame = turn(packPlanes(format, data, layout, visibleRect.width, visibleRect.height), rotation);
  return { bytes: await packed(y4mFile(frame, own.bits, rate, colorSpace)), extension: "y4m.gz" };
}

/** By gzip: half as much to send and to keep. */
async function packed(bytes: Uint8Array<ArrayBuffer>): Promise<Uint8Array<ArrayBuffer>> {
  const stream = new Blob([bytes]).stream().pipeThrough(new CompressionStream("gzip"));
  return new Uint8Array(await new Response(stream).arrayBuffer());
}

/** What the decoder gives only as RGB is kept as such. */
async function pngOf(sample: VideoSample): Promise<Uint8Array<ArrayBuffer>> {
  const canvas = new OffscreenCanvas(sample.displayWidth, sample.displayHeight);
  sample.draw(canvas.getContext("2d", { alpha: false })!, 0, 0);
  return new Uint8Array(await (await canvas.convertToBlob({ type: "image/png" })).arrayBuffer());
}

const json = async <T>(path: string, body: unknown): Promise<T> => {
  const response = await fetch(path, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(body),
  });
  const value = (await response.json()) as T & { error?: string };
  if (!response.ok) throw new Error(value.error ?? `The server answered ${response.status}`);
  return value;
};

async function send(batch: string, path: string, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
  const url = `/api/intake/${batch}/files/${path.split("/").map(encodeURIComponent).join("/")}?at=0&size=${bytes.length}`;
  const response = await fetch(url, { method: "PUT", body: bytes });
  if (!response.ok)
    throw new Error(((await response.json()) as { error?: string }).error ?? `The server answered ${response.status}`);
}

async function rateOf(track: InputVideoTrack): Promise<{ rate: number; variable: boolean }> {
  const { bestGuessFrameRate, underlyingFrameRate } = await track.computeFrameRateMetrics({
    targetPacketCount: RATE_PACKETS,
  } as never);
  return { rate: Math.min(1000, Math.max(1, bestGuessFrameRate || 24)), variable: underlyingFrameRate === null };
}

async function takeIn({ file, batch, stem }: TakeInOrder): Promise<void> {
  const input = new Input({ source: new BlobSource(file), formats: ALL_FORMATS });
  const track = await input.getPrimaryVideoTrack();
  if (!track) throw new Error("holds no pictures");
  if (!(await track.canDecode()))
    throw new Error(
      `is in a coding this browser does not decode (${(await track.getCodecParameterString()) ?? (await track.getCodec()) ?? "unknown"})`,
    );
  const { rate, variable } = await rateOf(track);
  const [start, end] = [await track.getFirstTimestamp(), await track.computeDuration()];
  const frames = Math.max(1, Math.round((end - start) * rate));
  const digits = Math.max(4, String(frames).length);
  const sink = new VideoSampleSink(track);
  const middle = (i: number) => start + (i + 0.5) / rate;
  const first = await sink.getSample(middle(0));
  if (!first) throw new Error("has no first frame that can be decoded");
  const sized = await fileOf(first, rate);
  const rotated = first.rotation % 180 !== 0;
  tell({
    kind: "found",
    frames,
    framesPerSecond: rate,
    variable,
    rotation: first.rotation,
    codec: (await track.getCodec()) ?? "unknown",
    width: rotated ? first.visibleRect.height : first.visibleRect.width,
    height: rotated ? first.visibleRect.width : first.visibleRect.height,
  });
  first.close();
  const path = (i: number) => `${stem}.${String(i + 1).padStart(digits, "0")}.${sized.extension}`;
  const answers = await json<{ received: number }[]>(
    `/api/intake/${batch}/offer`,
    Array.from({ length: frames }, (_, i) => ({ path: path(i) })),
  );
  const wanted = Array.from({ length: frames }, (_, i) => i).filter((i) => !answers[i]!.received);
  let done = frames - wanted.length;
  tell({ kind: "frame", done, frames });
  const flying = new Set<Promise<void>>();
  let n = 0;
  for await (const sample of sink.samplesAtTimestamps(wanted.map(middle))) {
    const i = wanted[n++]!;
    if (!sample) continue;
    const { bytes } = await fileOf(sample, rate);
    sample.close();
    const flight = send(batch, path(i), bytes).then(() => {
      flying.delete(flight);
      tell({ kind: "frame", done: ++done, frames });
    });
    flying.add(flight);
    if (flying.size >= IN_FLIGHT) await Promise.race(flying);
  }
  await Promise.all(flying);
  tell({ kind: "done" });
}

addEventListener("message", ({ data }: MessageEvent<TakeInOrder>) => {
  takeIn(data).catch((error: Error) => tell({ kind: "failed", reason: error.message }));
});
