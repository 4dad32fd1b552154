import "../shared/no-eval";
import {
  BufferTarget,
  Mp4OutputFormat,
  Output,
  Quality,
  VideoSample,
  VideoSampleSource,
  WebMOutputFormat,
} from "mediabunny";
import { countOf, framesIn } from "../../core/frame/ranges";
import { toYuv } from "../../core/colour/yuv";
import { type DeliverOrder, type DeliverReport, MOVIE_CODINGS } from "./messages";

/**
 * Makes a movie of a render's frames: luma and chroma of BT.709 in limited range, tagged as such, at constant quality.
 */

const tell = (report: DeliverReport) => postMessage(report);
/** Of mediabunny's scale, 0 to 1: nothing is seen of the coding at 1:1. */
const QUALITY = 0.95;
const KEY_FRAME_SECONDS = 1;

const CODECS = { "webm-vp9": "vp9", "mp4-av1": "av1", "mp4-avc": "avc" } as const;

async function pictureOf(render: number, frame: number): Promise<{ width: number; height: number; codes: Uint8Array }> {
  const response = await fetch(`/api/renders/${render}/frames/${frame}`);
  if (!response.ok)
    throw new Error(((await response.json()) as { error?: string }).error ?? `The server answered ${response.status}`);
  return {
    width: Number(response.headers.get("x-width")),
    height: Number(response.headers.get("x-height")),
    codes: new Uint8Array(await response.arrayBuffer()),
  };
}

/** 4:2:0 needs even sizes: an odd last column or row is repeated. */
function evenFloats({ width, height, codes }: { width: number; height: number; codes: Uint8Array }) {
  const [w, h] = [width + (width & 1), height + (height & 1)];
  const data = new Float32Array(w * h * 4);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const from = (Math.min(y, height - 1) * width + Math.min(x, width - 1)) * 4;
      for (let c = 0; c < 4; c++) data[(y * w + x) * 4 + c] = codes[from + c]! / 255;
    }
  return { width: w, height: h, data };
}

function yuvBytes({ width, height, data }: ReturnType<typeof evenFloats>): Uint8Array<ArrayBuffer> {
  const planes = toYuv(data, {
    width,
    height,
    bits: 8,
    halfWidth: true,
    halfHeight: true,
    leftSited: true,
    matrix: "bt709",
    fullRange: false,
  });
  const out = new Uint8Array(planes.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const plane of planes) {
    out.set(plane, at);
    at += plane.length;
  }
  return out;
}

async function deliver({ render, frames, framesPerSecond, kind, transfer }: DeliverOrder): Promise<void> {
  const target = new BufferTarget();
  const output = new Output({ format: kind === "webm-vp9" ? new WebMOutputFormat() : new Mp4OutputFormat(), target });
  const source = new VideoSampleSource({
    codec: CODECS[kind],
    quality: new Quality({ quality: QUALITY }),
    keyFrameInterval: KEY_FRAME_SECONDS,
    latencyMode: "quality",
  });
  output.addVideoTrack(source, { frameRate: framesPerSecond });
  await output.start();
  let i = 0;
  for (const frame of framesIn(frames)) {
    const picture = evenFloats(await pictureOf(render, frame));
    const sample = new VideoSample(yuvBytes(picture), {
      format: "I420",
      codedWidth: picture.width,
      codedHeight: picture.height,
      timestamp: i / framesPerSecond,
      duration: 1 / framesPerSecond,
      colorSpace: { primaries: "bt709", transfer, matrix: "bt709", fullRange: false },
    });
    await source.add(sample);
    sample.close();
    i++;
    tell({ kind: "frame", done: i, frames: countOf(frames) });
  }
  await output.finalize();
  const { extension } = MOVIE_CODINGS[kind];
  const response = await fetch(`/api/renders/${render}/movie?kind=${extension}`, {
    method: "PUT",
    body: target.buffer,
  });
  const answer = (await response.json()) as { file?: string; error?: string };
  if (!response.ok) throw new Error(answer.error ?? `The server answered ${response.status}`);
  tell({ kind: "done", file: answer.file! });
}

addEventListener("message", ({ data }: MessageEvent<DeliverOrder>) => {
  deliver(data).catch((error: Error) => tell({ kind: "failed", reason: error.message }));
});
