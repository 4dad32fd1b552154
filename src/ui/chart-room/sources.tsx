"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import Link from "next/link";
import { useRef, useState } from "react";
import { toast } from "sonner";
import { firstOf } from "@/core/frame/ranges";
import type { BenchDayOffer } from "@/contract/charts";
import type { FoundGroup } from "@/contract/intake";
import { filesOf, type Manifest, manifestSchema } from "@/core/measure/manifest";
import { framesIn } from "@/core/frame/ranges";
import { batchOf, chosenFiles, type Dropped } from "../footage/intake/files";
import { sendAll } from "../footage/intake/send";
import { api } from "../shared/api";
import { shotTitle, useShots } from "../shared/production";
import { measureNext } from "./runner";
import { type ChartPicture, measurementsIn, measurementsOf, useSession } from "./session";

const MANIFEST = /(^|\/)manifest\.json$/i;

/** The files of a group that was found, as pictures. */
const picturesOf = (batch: string, { folder, files, width, height, encoding }: FoundGroup): ChartPicture[] =>
  files.map((file) => ({
    name: file,
    source: { kind: "sent", batch, path: folder ? `${folder}/${file}` : file },
    width,
    height,
    encoding,
  }));

/** What a manifest's text says. Throws Error that names the file, the field and what would be right. */
function readManifest(text: string): Manifest {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new Error("manifest.json: is no JSON");
  }
  const read = manifestSchema.safeParse(json);
  if (read.success) return read.data;
  const { path, message } = read.error.issues[0]!;
  throw new Error(`manifest.json: ${path.join(".")} ${message}`);
}

/** Takes frames in, by what a manifest beside them says, or else by their names. */
async function takeIn(batch: string, manifestText: string | null): Promise<{ refused: string[] }> {
  const { groups, refused } = await api.finding(batch);
  const pictures = groups.flatMap((group) => picturesOf(batch, group));
  const { add, setHead, measurements } = useSession.getState();
  if (manifestText === null) add(measurementsOf(pictures, measurements));
  else {
    const read = readManifest(manifestText);
    const { name, set = "", by = "", squeeze, imageCircle = 0, sensor } = read;
    setHead({ name, set, by, squeeze, imageCircle, sensor });
    const pictureOf = (file: string) => pictures.find((picture) => picture.name === file.split("/").at(-1));
    const missing = read.frames.flatMap(filesOf).filter((file) => !pictureOf(file));
    add(measurementsIn(read, pictureOf));
    for (const file of new Set(missing))
      refused.push({ name: file, reason: "is in the manifest, and was not dropped" });
  }
  measureNext();
  return { refused: refused.map(({ name, reason }) => `${name}: ${reason}`) };
}

/** Sends dropped files and measures them; what is refused is told by name. */
export async function measureFiles(
  files: Dropped[],
  signal: AbortSignal,
  tell: (words: string | null) => void,
): Promise<void> {
  const manifest = files.find(({ path }) => MANIFEST.test(path));
  const frames = files.filter((file) => file !== manifest);
  if (!frames.length) return;
  const batch = await batchOf(frames);
  try {
    tell(`0 of ${frames.length} frames sent`);
    const { refused } = await sendAll(batch, frames, { signal, readsMovies: false }, ({ done, of }) =>
      tell(`${done} of ${of} frames sent`),
    );
    tell("looking at them");
    const more = await takeIn(batch, manifest ? await manifest.file.text() : null);
    for (const words of [...refused.map(({ name, reason }) => `${name}: ${reason}`), ...more.refused])
      toast.error(words);
  } catch (error) {
    toast.error((error as Error).message);
  } finally {
    tell(null);
  }
}

const OFFER_WORDS: Record<BenchDayOffer["state"], (offer: BenchDayOffer) => string> = {
  offered: () => "compute its frames",
  making: ({ done, of }) => (of ? `computing, ${done} of ${of}` : "computing"),
  ready: () => "measure its frames",
  failed: ({ problem }) => `failed: ${problem ?? ""}; try again`,
};

/** Frames of charts that the application computes, to try the room with. */
function BenchDayOffers() {
  const client = useQueryClient();
  const offers = useQuery({
    queryKey: ["bench-day"],
    queryFn: api.benchDay,
    refetchInterval: ({ state }) => (state.data?.some((offer) => offer.state === "making") ? 1000 : false),
  });
  const press = async ({ id, batch, state }: BenchDayOffer) => {
    if (state === "ready") {
      const { refused } = await takeIn(batch, JSON.stringify(await api.benchDayManifest(id)));
      for (const words of refused.filter((line) => !MANIFEST.test(line.split(":")[0]!))) toast.error(words);
    } else if (state !== "making") {
      await api.beginBenchDay(id);
      await client.invalidateQueries({ queryKey: ["bench-day"] });
    }
  };
  return (
    <details className="rounded-md border border-line bg-base-200">
      <summary className="cursor-pointer px-2 py-1">Bench day, the demo’s charts</summary>
      <ul className="flex flex-col gap-1 p-2 pt-0">
        {(offers.data ?? []).map((offer) => (
          <li key={offer.id} className="flex items-center justify-between gap-2">
            <span>{offer.name}</span>
            <button
              type="button"
              className="btn btn-xs"
              disabled={offer.state === "making"}
              aria-label={`${offer.name}: ${OFFER_WORDS[offer.state](offer)}`}
              onClick={() => press(offer).catch((error: Error) => toast.error(error.message))}
            >
              {OFFER_WORDS[offer.state](offer)}
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** A frame of a shot that was taken in. */
function ShotFrame() {
  const shots = useShots();
  const [chosen, setChosen] = useState("");
  const [frame, setFrame] = useState("");
  const shot = shots.data?.find(({ id }) => id === chosen);
  const add = () => {
    if (!shot) return;
    const number = frame === "" ? firstOf(shot.footage.frames) : Number(frame);
    if (![...framesIn(shot.footage.frames)].includes(number)) {
      toast.error(`Frame: ${shotTitle(shot)} has no frame ${frame}`);
      return;
    }
    const picture: ChartPicture = {
      name: `${shotTitle(shot)}, frame ${number}`,
      source: { kind: "shot", shotId: shot.id, frame: number },
      width: shot.footage.width,
      height: shot.footage.height,
      encoding: shot.encoding,
    };
    const { add: addAll, measurements } = useSession.getState();
    addAll(measurementsOf([picture], measurements));
    measureNext();
  };
  return (
    <details className="rounded-md border border-line bg-base-200">
      <summary className="cursor-pointer px-2 py-1">A frame of a shot</summary>
      <form
        className="flex items-center gap-1 p-2 pt-0"
        onSubmit={(event) => {
          event.preventDefault();
          add();
        }}
      >
        <select
          className="select select-xs min-w-0 flex-1"
          aria-label="Shot"
          value={chosen}
          onChange={(event) => setChosen(event.target.value)}
        >
          <option value="">Choose a shot</option>
          {(shots.data ?? []).map((one) => (
            <option key={one.id} value={one.id}>
              {shotTitle(one)}
            </option>
          ))}
        </select>
        <input
          className="input input-xs figures w-16"
          aria-label="Frame of the shot"
          placeholder="frame"
          value={frame}
          onChange={(event) => setFrame(event.target.value)}
        />
        <button type="submit" className="btn btn-xs" disabled={!shot}>
          Add
        </button>
      </form>
    </details>
  );
}

/** Where frames come from. */
export function Sources({ onFiles, sending }: { onFiles(files: Dropped[]): void; sending: string | null }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="flex flex-col gap-2">
      <input
        ref={input}
        type="file"
        multiple
        hidden
        aria-label="Frames of charts"
        onChange={(event) => {
          onFiles(chosenFiles(event.target.files ?? []));
          event.target.value = "";
        }}
      />
      <button
        type="button"
        className="flex items-center justify-center gap-2 rounded-md border border-dashed border-line px-2 py-3 text-quiet hover:text-base-content"
        onClick={() => input.current?.click()}
      >
        <FileUp size={14} /> {sending ?? "Drop frames anywhere, or choose them"}
      </button>
      <ShotFrame />
      <BenchDayOffers />
      <Link className="px-2 underline underline-offset-2" href="/chart-room/printed">
        A lens from a printed page
      </Link>
    </div>
  );
}
