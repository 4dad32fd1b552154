/** One portion of a render, from its lease to its end. */
import { framesIn } from "../../core/frame/ranges";
import { holdsAllFrames } from "../../formats/formats";
import type { Database } from "../../store/database";
import {
  commitFrames,
  endPortion,
  endRender,
  filesRead,
  forgetFrames,
  type FrameResult,
  framesMade,
  isBeingMade,
  MAX_ATTEMPTS,
  type Portion,
  releasePortion,
} from "../../store/farm";
import { findRender, findShot, moveRender, type Render, updateRender } from "../../store/queries";
import type { ReadFiles } from "../../store/schema/schema";
import { Refusal } from "../errors/errors";
import { fileNameOf, folderOf } from "../render/deliver";
import { renderOrder } from "../render/order";
import type { FromThread } from "../render/protocol";
import { joinedReads } from "../render/recipe-file";
import { type Deadline, type RenderThread, startThread, type StartThread } from "../render/thread";
import { sweepUnfinished } from "../storage/files";
import { makeShared, share } from "../storage/sharing";
import { join } from "node:path";

/** A portion in hand. */
export interface Held {
  portion: Portion;
  /** That of the portion before; then, of its own render. Null where there is none, or it broke. */
  thread: (RenderThread & { renderId: number }) | null;
  /** Why no further frame of it is made. */
  stopped: "lost" | "cancelled" | "paused" | "stopping" | null;
  framesPerSecond: number;
}

/** Who makes portions, and how. */
export interface Maker {
  db: Database;
  workerId: string;
  deadline: Deadline;
  start?: StartThread;
  /** Between entries of what was made, ms. */
  enters: number;
  /** Made since the worker was started. */
  frames: number;
  /**
   * Does what must be done in the end, again and again until it is; null where the worker is stopped meanwhile. Throws
   * what would be no better later.
   */
  persist<T>(what: string, work: () => Promise<T>): Promise<T | null>;
}

/** No further frame of a portion; by force after `grace` ms. */
export function halt(one: Held, why: NonNullable<Held["stopped"]>, grace?: number): void {
  if (one.stopped) return;
  one.stopped = why;
  one.thread?.stop(grace);
}

const NOTHING = { file: null, recipe: null, bytes: null, sha256: null };
/** Of a reason, characters. */
const MAX_REASON = 500;
/** Failures that are of no frame are entered under this number. */
const NO_FRAME = 0;

/** What a database keeps as text: it may come from a file, or from another program. */
const asText = (reason: string): string => reason.replaceAll("\0", "").slice(0, MAX_REASON);

const isOneFile = (render: Render) => holdsAllFrames(fileNameOf(render));

/** The thread of a render: the one that made the portion before, or a new one. Throws where it cannot be had. */
async function threadFor(maker: Maker, one: Held, render: Render): Promise<RenderThread> {
  const { db, deadline, start, persist } = maker;
  if (one.thread?.renderId === render.id) return one.thread;
  await one.thread?.end();
  one.thread = null;
  const output = join(folderOf(render), fileNameOf(render));
  // A database that is away for a while is waited for: it is no fault of the render's.
  const order = await persist("read what is to be made", async () => {
    const found = await findShot(db, render.shotId);
    if (!found) throw new Refusal("missing", "its shot is not there any more");
    return renderOrder(db, found, { ...render, output });
  });
  if (!order) throw new Error("its worker was stopped");
  await makeShared(folderOf(render));
  one.thread = { ...startThread(order, { deadline, start }), renderId: render.id };
  if (one.stopped) one.thread.stop();
  return one.thread;
}

/** Enters what was made in bundles: the database is asked a few times a second, however fast frames come. */
function entriesOf(maker: Maker, one: Held) {
  const { db, workerId } = maker;
  // By their frames: one statement enters a frame once.
  let bundle = new Map<number, FrameResult>();
  let problem: unknown = null;
  let timer: NodeJS.Timeout | null = null;
  let turn: Promise<unknown> = Promise.resolve();
  async function enter(): Promise<void> {
    timer = null;
    const results = [...bundle.values()];
    bundle = new Map();
    if (!results.length) return;
    try {
      const isOwn = await maker.persist("enter frames", () => commitFrames(db, one.portion, workerId, results));
      if (isOwn === false) halt(one, "lost");
    } catch (error) {
      problem ??= error;
      one.thread?.stop();
    }
  }
  const enterNext = () => (turn = turn.then(enter));
  return {
    add(result: FrameResult) {
      bundle.set(result.frame, result);
      timer ??= setTimeout(enterNext, maker.enters);
    },
    /** Throws what kept something from being entered. */
    async flush() {
      if (timer) clearTimeout(timer);
      await enterNext();
      if (problem) throw problem;
    },
  };
}

async function makeFrames(maker: Maker, one: Held, render: Render): Promise<ReadFiles | null> {
  const { db } = maker;
  const { portion } = one;
  // One file is begun anew, whatever was in it.
  if (isOneFile(render)) await maker.persist("begin a movie", () => forgetFrames(db, render.id));
  const made = (await maker.persist("read what is made", () => framesMade(db, render.id, portion.frames))) ?? [];
  const thread = await threadFor(maker, one, render);
  const entries = entriesOf(maker, one);
  const hear = (said: FromThread) => {
    if (said.kind === "losses") void updateRender(db, render.id, { losses: said.losses }).catch(() => {});
    if (said.kind !== "frame") return;
    const { reason } = said.result;
    if (reason === null) maker.frames++;
    one.framesPerSecond = said.framesPerSecond;
    entries.add({ ...said.result, reason: reason === null ? null : asText(reason) });
  };
  try {
    return await thread.ask({ kind: "make", frames: portion.frames, made: made.flatMap(ledgerEntry) }, hear);
  } finally {
    await entries.flush();
  }
}

const ledgerEntry = ({ file, recipe, bytes, sha256 }: FrameResult) =>
  file && recipe && sha256 && bytes !== null ? [{ file, recipe, bytes, sha256 }] : [];

/** Writes what stands beside a render's frames, when all of them are made. */
async function writeBeside(maker: Maker, one: Held, render: Render): Promise<null> {
  if (isOneFile(render) && !render.besides.length) return null;
  const read = await maker.persist("read what was read", () => filesRead(maker.db, render.id));
  if (!read) return null;
  await (await threadFor(maker, one, render)).ask({ kind: "close", read: joinedReads(read) }, () => {});
  return null;
}

/** Enters that a portion failed for a reason: each frame of it that is not made, or the render's file as a whole. */
async function fail({ db, workerId, persist }: Maker, { portion }: Held, render: Render, reason: string) {
  await persist("enter a failure", async () => {
    const made = new Set((await framesMade(db, portion.renderId)).map(({ frame }) => frame));
    const isWhole = portion.kind === "close" || isOneFile(render);
    const missing = isWhole ? [NO_FRAME] : [...framesIn(portion.frames)].filter((frame) => !made.has(frame));
    const results = missing.map((frame) => ({ frame, ...NOTHING, reason: asText(reason) }));
    if (results.length) await commitFrames(db, portion, workerId, results);
  });
}

/** Takes away what was begun in a render's folder, and gives its files their rights. */
async function tidy(render: Render): Promise<void> {
  // A folder that is gone meanwhile, or that this machine cannot reach, needs nothing.
  try {
    await sweepUnfinished(folderOf(render));
    await share(folderOf(render));
  } catch {}
}

/**
 * Makes a portion: its frames are made and entered, or its render is closed; one that was stopped is given back. A thread
 * that breaks fails what it had not made, and is gone.
 */
export async function makePortion(maker: Maker, one: Held): Promise<void> {
  const { db, workerId, persist } = maker;
  const { portion } = one;
  const render = await persist("read a render", () => findRender(db, portion.renderId));
  if (!render) return;
  let read: ReadFiles | null = null;
  try {
    if (portion.attempts > MAX_ATTEMPTS) throw new Error(`its worker ended ${MAX_ATTEMPTS} times without a frame`);
    const begun = { state: "running" as const, started: render.started ?? new Date() };
    await persist("begin a render", () => moveRender(db, render.id, ["queued"], begun));
    read = await (portion.kind === "frames" ? makeFrames : writeBeside)(maker, one, render);
  } catch (error) {
    await one.thread?.end();
    one.thread = null;
    if (!one.stopped) await fail(maker, one, render, (error as Error).message);
  }
  if (one.stopped) {
    await persist("give a portion back", () => releasePortion(db, portion, workerId));
    const isLeft = one.stopped === "cancelled" && !(await isBeingMade(db, render.id));
    if (isLeft) await tidy(render);
    return;
  }
  if (portion.kind === "close") {
    // All portions are done: what lies there unfinished is nobody's.
    await tidy(render);
    await persist("end a render", () => endRender(db, render.id));
  }
  await persist("end a portion", () => endPortion(db, portion, workerId, read));
}
