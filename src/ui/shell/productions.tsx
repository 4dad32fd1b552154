"use client";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { ChevronDown, Download, FileUp } from "lucide-react";
import { usePathname, useRouter } from "next/navigation";
import { Popover } from "radix-ui";
import { useRef, useState } from "react";
import type { ImportedProduction, ListedProduction, ProductionChange } from "@/contract/productions";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { enterProduction, useProductions } from "../shared/production";
import { useWorkspace } from "../shared/workspace";

const several = (count: number, one: string) => `${count} ${one}${count === 1 ? "" : "s"}`;

/** Goes into a production: the Bench opens its first shot, other views show what is its own. */
function useEnter(): (id: string) => void {
  const path = usePathname();
  const router = useRouter();
  const tell = useWorkspace((state) => state.set);
  return (id) => {
    enterProduction(id);
    tell({ shotId: null, title: null });
    if (path.startsWith("/bench")) router.push("/");
  };
}

/** After a change of a production, which most of what is shown may hang on: all of it is asked for again. */
function useRefresh(): () => Promise<unknown> {
  const client = useQueryClient();
  return () => client.invalidateQueries();
}

/** Lists a production that was just made, before the list is asked for again: what is done next is done to it. */
function useListed(): (made: { id: string; name: string }, shots: number) => void {
  const client = useQueryClient();
  return ({ id, name }, shots) =>
    client.setQueryData<ListedProduction[]>(["productions"], (all = []) => [
      ...all,
      { id, name, archived: false, shots, renders: 0 },
    ]);
}

/** The production one is in: named, handed over, put away, removed. */
function Current({ production, onLeft }: { production: ListedProduction; onLeft(): void }) {
  const { id, name } = production;
  const [words, setWords] = useState(name);
  const onSuccess = useRefresh();
  const change = useMutation({ mutationFn: (to: ProductionChange) => api.changeProduction(id, to), onSuccess });
  const remove = useMutation({ mutationFn: () => api.removeProduction(id), onSuccess, meta: { showsItsError: true } });
  const ask = async () => {
    const { usedBy, goes, stays } = await api.usesOfProduction(id);
    if (usedBy.length) throw new Error(`Shots of it are laid over ${usedBy.join(", ")}; take them off there first`);
    return `Remove ${name}? ${goes.length ? `${goes.join(", ")} go with it. ` : ""}${stays.join(", ")} stay.`;
  };
  return (
    <section aria-label={`The production ${name}`} className="flex flex-col gap-2 border-t border-line pt-3">
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate({ name: words });
        }}
      >
        <input
          aria-label="Name of the production"
          className="input input-sm flex-1"
          value={words}
          maxLength={120}
          required
          onChange={(event) => setWords(event.target.value)}
        />
        <button type="submit" className="btn btn-sm" disabled={!words.trim() || words === name || change.isPending}>
          Rename
        </button>
      </form>
      <div className="flex flex-wrap items-start gap-2">
        <a
          className="btn btn-xs"
          href={api.productionFile(id)}
          download
          title="Looks, versions, stills, glass and tables as one zip; footage by hash"
        >
          <Download size={12} /> Hand over as a zip
        </a>
        <button
          type="button"
          className="btn btn-xs"
          title="Its shots are not listed until it is taken up again"
          onClick={() => change.mutate({ archived: true }, { onSuccess: onLeft })}
        >
          Put away
        </button>
        <ConfirmButton
          label="Remove"
          name={`Remove the production ${name}`}
          confirm="Remove it"
          ask={ask}
          onConfirm={async () => {
            await remove.mutateAsync();
            onLeft();
          }}
        />
      </div>
    </section>
  );
}

/** What came of a production that was brought in, where there is more to say than its name. */
function Told({ imported: { production, shots, notes } }: { imported: ImportedProduction }) {
  const missing = shots.filter(({ footage }) => footage === null);
  return (
    <div role="status" className="rounded-md border border-line bg-base-300 p-2">
      <p>
        {production.name} is here, with {several(shots.length, "shot")}.
      </p>
      {missing.length > 0 && (
        <p>
          Footage that is not here: {missing.map(({ name }) => name).join(", ")}. Take its files in under Footage, and
          they are found.
        </p>
      )}
      {notes.map((note) => (
        <p key={note}>{note}.</p>
      ))}
    </div>
  );
}

/** Begins a production, or brings one in. */
function Further({ onEntered, onImported }: { onEntered(id: string): void; onImported(of: ImportedProduction): void }) {
  const [name, setName] = useState("");
  const input = useRef<HTMLInputElement>(null);
  const refresh = useRefresh();
  const list = useListed();
  const make = useMutation({
    mutationFn: () => api.makeProduction(name),
    onSuccess: (made) => {
      list(made, 0);
      setName("");
      onEntered(made.id);
      return refresh();
    },
  });
  const bring = useMutation({
    mutationFn: api.importProduction,
    onSuccess: (imported) => {
      list(imported.production, imported.shots.length);
      onImported(imported);
      return refresh();
    },
  });
  return (
    <div className="flex flex-col gap-2 border-t border-line pt-3">
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        <input
          aria-label="Name of a new production"
          placeholder="A new production"
          className="input input-sm flex-1"
          value={name}
          maxLength={120}
          required
          onChange={(event) => setName(event.target.value)}
        />
        <button type="submit" className="btn btn-sm" disabled={!name.trim() || make.isPending}>
          Begin
        </button>
      </form>
      <button
        type="button"
        className="btn btn-xs self-start"
        disabled={bring.isPending}
        onClick={() => input.current?.click()}
      >
        <FileUp size={12} /> {bring.isPending ? "Bringing it in …" : "Bring in a zip"}
      </button>
      <input
        ref={input}
        type="file"
        accept=".zip,application/zip"
        className="sr-only"
        tabIndex={-1}
        aria-label="Production to bring in"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) bring.mutate(file);
          event.target.value = "";
        }}
      />
    </div>
  );
}

/** Which production one is in, and everything that is done with productions. */
export function Productions() {
  const { all, current } = useProductions();
  const [isOpen, setOpen] = useState(false);
  const [imported, setImported] = useState<ImportedProduction | null>(null);
  const enter = useEnter();
  const onSuccess = useRefresh();
  const takeUp = useMutation({ mutationFn: (id: string) => api.changeProduction(id, { archived: false }), onSuccess });
  const open = all.filter(({ archived, id }) => !archived || id === current?.id);
  const away = all.filter(({ archived, id }) => archived && id !== current?.id);
  const leave = () => {
    setImported(null);
    const next = open.find(({ id }) => id !== current?.id);
    enter(next?.id ?? "");
  };
  const close = (next: boolean) => {
    setOpen(next);
    if (!next) setImported(null);
  };
  return (
    <Popover.Root open={isOpen} onOpenChange={close}>
      <Popover.Trigger
        className="flex max-w-44 items-center gap-1 rounded px-1 hover:text-base-content"
        title="Productions"
      >
        <span className="truncate">{current?.name ?? (current === null ? "No production" : "")}</span>
        <ChevronDown size={12} aria-hidden className="shrink-0" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={6}
          aria-label="Productions"
          className="z-50 flex max-h-[80dvh] w-88 flex-col gap-3 overflow-y-auto rounded-md border border-line bg-base-200 p-3"
        >
          <ul aria-label="Productions" className="flex flex-col gap-1">
            {open.map(({ id, name, shots, renders }) => (
              <li key={id}>
                <button
                  type="button"
                  aria-pressed={id === current?.id}
                  className={`flex w-full justify-between gap-3 rounded px-2 py-1 text-left ${
                    id === current?.id ? "halo" : "hover:bg-base-300"
                  }`}
                  onClick={() => {
                    setImported(null);
                    if (id !== current?.id) enter(id);
                  }}
                >
                  <span className="truncate">{name}</span>
                  <span className="figures shrink-0 text-quiet">
                    {several(shots, "shot")}, {several(renders, "render")}
                  </span>
                </button>
              </li>
            ))}
          </ul>
          {imported && <Told imported={imported} />}
          {current && <Current key={current.id} production={current} onLeft={leave} />}
          <Further
            onEntered={enter}
            onImported={(of) => {
              setImported(of);
              enter(of.production.id);
            }}
          />
          {away.length > 0 && (
            <details className="border-t border-line pt-2">
              <summary className="cursor-pointer text-quiet">Put away ({away.length})</summary>
              <ul className="mt-1 flex flex-col gap-1">
                {away.map(({ id, name, shots }) => (
                  <li key={id} className="flex items-center justify-between gap-3 px-2">
                    <span className="truncate">{name}</span>
                    <span className="figures ml-auto shrink-0 text-quiet">{several(shots, "shot")}</span>
                    <button
                      type="button"
                      className="btn btn-xs"
                      aria-label={`Take up ${name}`}
                      onClick={() => takeUp.mutate(id)}
                    >
                      Take up
                    </button>
                  </li>
                ))}
              </ul>
            </details>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
