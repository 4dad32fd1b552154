"use client";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Upload } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { toast } from "sonner";
import { carried } from "@/core/look/carry";
import { setView } from "../view/store";
import { api } from "../shared/api";
import type { Offer } from "./offer";
import { readLookFiles } from "./look-files";
import { KeepLook } from "./keep-look";
import { LookDetails } from "./look-details";
import { LookPicture } from "./look-picture";
import { useLibrary, useLibraryProblem } from "./use-library";
import { useKeptLook } from "./kept-look";
import { useShelf } from "./use-shelf";

const GROUPS = ["Own", "Ready", "On other shots"] as const;

const isFound = ({ name, purpose, tags }: Offer, words: string): boolean =>
  [name, purpose ?? "", ...tags].join(" ").toLowerCase().includes(words.trim().toLowerCase());

function LookCard({ offer, isChosen, onChoose }: { offer: Offer; isChosen: boolean; onChoose(): void }) {
  const { shot, look, orderOf, stretch } = useShelf();

  const [isSeen, setSeen] = useState(false);
  const kept = useKeptLook(offer.kept, isSeen);
  const worn = useMemo(() => kept && carried(kept, look, "all", "instead"), [kept, look]);
  // What is pointed at is shown as soon as its look is there.
  const [isPointed, setPointed] = useState(false);
  useEffect(() => {
    if (!isPointed || !worn) return;
    setView({ preview: { look: worn, name: offer.name } });
    return () => setView({ preview: null });
  }, [isPointed, worn, offer.name]);
  const show = () => setPointed(true);
  const hide = () => setPointed(false);
  return (
    <li className="[contain-intrinsic-size:auto_112px] [content-visibility:auto]">
      <button
        type="button"
        className={`flex w-full flex-col overflow-hidden rounded text-left ${isChosen ? "halo" : ""}`}
        aria-pressed={isChosen}
        title={offer.purpose ?? undefined}
        onPointerEnter={show}
        onPointerLeave={hide}
        onFocus={(event) => event.currentTarget.matches(":focus-visible") && show()}
        onBlur={hide}
        onClick={onChoose}
      >
        <LookPicture
          order={worn ? orderOf(worn) : null}
          onSeen={() => setSeen(true)}
          width={shot.footage.width}
          stretch={stretch}
          label={`${offer.name} on this frame`}
        />
        <span className="w-full truncate px-1 py-0.5">{offer.name}</span>
      </button>
    </li>
  );
}

/** Looks to wear: the ready ones, one's own, and those of the other shots, as pictures of the frame on the Bench. */
export function LooksShelf() {
  const { shot, beside, names } = useShelf();
  const library = useLibrary();
  const problem = useLibraryProblem();
  const client = useQueryClient();
  const [words, setWords] = useState("");
  const [chosen, setChosen] = useState<string | null>(null);
  const refresh = () => void client.invalidateQueries({ queryKey: ["looks"] });
  const offers = useMemo<Offer[]>(() => {
    const kept = (library?.looks ?? []).map(({ revision, ...entry }): Offer => ({
      ...entry,
      key: `look ${entry.id}`,
      group: revision === null ? "Ready" : "Own",
      kept: { in: "library", id: entry.id, revision },
    }));
    const worn = (library?.worn ?? [])
      .filter(({ shotId }) => shotId !== shot.id && beside.some(({ id }) => id === shotId))
      .map(({ shotId, revision }): Offer => ({
        key: `shot ${shotId}`,
        group: "On other shots",
        id: shotId,
        name: beside.find(({ id }) => id === shotId)?.name ?? shotId,
        purpose: null,
        tags: [],
        kept: { in: "shot", id: shotId, revision },
      }));
    return [...kept, ...worn];
  }, [library, shot.id, beside]);
  const found = offers.filter((offer) => isFound(offer, words));
  const open = offers.find(({ key }) => key === chosen);
  const take = useMutation({
    mutationFn: async (files: File[]) => {
      const read = await readLookFiles(files);
      for (const look of read.looks) await api.keepLook(look);
      return read;
    },
    onSuccess({ looks, refused }) {
      if (looks.length)
        toast(
          looks.length === 1 ? `“${looks[0]!.name}” is in the library` : `${looks.length} looks are in the library`,
        );
      for (const { file, reason } of refused) toast.error(`${file}: ${reason}`);
    },
    onSettled: refresh,
  });
  return (
    <>
      <div className="flex gap-1">
        <input
          type="search"
          className="input input-xs min-w-0 flex-1"
          aria-label="Find a look"
          placeholder="Find by name, purpose or tag"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <label className="btn btn-xs" title="Looks as JSON files; several at once">
          <Upload size={12} /> Import
          <input
            type="file"
            multiple
            accept=".json,application/json"
            className="sr-only"
            aria-label="Looks to import"
            onChange={(event) => {
              const field = event.currentTarget;
              take.mutate([...(field.files ?? [])], { onSettled: () => (field.value = "") });
            }}
          />
        </label>
      </div>
      <KeepLook onKept={refresh} />
      <div className="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto">
        {!library && !problem && <p className="text-quiet">Looking the library up …</p>}
        {!library && problem && (
          <p role="alert">
            The library could not be looked up: {problem}.{" "}
            <button type="button" className="underline underline-offset-2" onClick={refresh}>
              Try again
            </button>
          </p>
        )}
        {library && !found.length && <p className="text-quiet">No look is called or tagged so.</p>}
        {GROUPS.map((group) => {
          const own = found.filter((offer) => offer.group === group);
          if (!own.length) return null;
          return (
            <section key={group} aria-label={group}>
              <h3 className="border-b border-line pb-1 text-quiet">{group}</h3>
              <ul className="grid grid-cols-2 gap-2 pt-2">
                {own.map((offer) => (
                  <LookCard
                    key={offer.key}
                    offer={offer}
                    isChosen={offer.key === chosen}
                    onChoose={() => setChosen(offer.key === chosen ? null : offer.key)}
                  />
                ))}
              </ul>
            </section>
          );
        })}
      </div>
      {/* Below the list, so that choosing moves nothing under the pointer. */}
      {open && (
        <div className="max-h-[60%] shrink-0 overflow-y-auto">
          <LookDetails key={open.key} offer={open} names={names} onChanged={refresh} onGone={() => setChosen(null)} />
        </div>
      )}
    </>
  );
}
