"use client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { FileUp } from "lucide-react";
import { useRef } from "react";
import { ENCODINGS } from "@/core/colour/encodings";
import type { Look } from "@/core/look/look";
import { DISPLAYS, type Display } from "@/core/view/view";
import { api } from "../../shared/api";
import { ConfirmButton } from "../../shared/confirm-button";
import { ExportTable } from "./export-table";
import { GlassSheetButton } from "./glass-sheet";
import { commit, commitLater } from "../../shot/document";

const row = "grid grid-cols-[7.5rem_1fr] items-center gap-2";
const DISPLAY_WORDS: Record<Display, string> = { srgb: "sRGB", bt1886: "BT.1886", "p3-d65": "P3, D65 white" };

/** How working light is shown: the tone, the display, or a table of the user's own. */
export function ViewFields({ look }: { look: Look }) {
  const client = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const tables = useQuery({ queryKey: ["tables"], queryFn: api.tables });
  const set = (view: Partial<Look["view"]>, change: (edit: (look: Look) => Look) => void = commit) =>
    change((now) => ({ ...now, view: { ...now.view, ...view } }));
  const importTable = useMutation({
    mutationFn: async ({ chosen }: { chosen: File; change: ReturnType<typeof commitLater> }) =>
      api.keepTable(chosen.name, await chosen.text()),
    async onSuccess({ id }, { change }) {
      await client.invalidateQueries({ queryKey: ["tables"] });
      void client.invalidateQueries({ queryKey: ["table", id] });
      set({ kind: "lut", lut: id }, change);
    },
  });
  // A table that this look shows light through stays; whether another look does, the server says.
  const unused = look.view.kind === "lut" ? (tables.data ?? []).filter(({ id }) => id !== look.view.lut) : [];
  const choose = (kind: string) => {
    if (kind !== "lut") return set({ kind: kind as "plain" });
    const first = look.view.lut ?? tables.data?.[0]?.id;
    if (first) set({ kind: "lut", lut: first });
    else file.current?.click();
  };
  return (
    <>
      <h3 className="border-b border-line pt-1 font-semibold">View</h3>
      <label className={row}>
        <span>Transform</span>
        <select
          aria-label="Transform"
          className="select select-xs w-full"
          value={look.view.kind}
          onChange={(event) => choose(event.target.value)}
        >
          <option value="soft">Soft: shoulder and toe</option>
          <option value="plain">Plain: clipped</option>
          <option value="lut">A table (.cube, CLF) …</option>
        </select>
      </label>
      {look.view.kind === "lut" && (
        <>
          <label className={row}>
            <span>Table</span>
            <select
              aria-label="Table"
              className="select select-xs w-full"
              value={look.view.lut}
              onChange={(event) => set({ lut: event.target.value })}
            >
              {tables.data?.map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </select>
          </label>
          <label className={row}>
            <span>It takes</span>
            <select
              aria-label="It takes"
              className="select select-xs w-full"
              value={look.view.lutInput}
              onChange={(event) => set({ lutInput: event.target.value as Look["view"]["lutInput"] })}
            >
              {ENCODINGS.map(({ name, label }) => (
                <option key={name} value={name}>
                  {label}
                </option>
              ))}
            </select>
          </label>
        </>
      )}
      {look.view.kind !== "lut" && (
        <label className={row}>
          <span>Display</span>
          <select
            aria-label="Display"
            className="select select-xs w-full"
            value={look.view.display}
            onChange={(event) => set({ display: event.target.value as Display })}
          >
            {DISPLAYS.map((display) => (
              <option key={display} value={display}>
                {DISPLAY_WORDS[display]}
              </option>
            ))}
          </select>
        </label>
      )}
      <div className="flex flex-wrap gap-2">
        <button type="button" className="btn btn-xs" onClick={() => file.current?.click()}>
          <FileUp size={12} /> Import a table
        </button>
        <ExportTable />
        <GlassSheetButton />
        {unused.map(({ id, name, file: from }) => (
          <ConfirmButton
            key={id}
            label={`Remove ${name}`}
            ask={() => Promise.resolve(`Remove the table ${name} (${from})?`)}
            confirm="Remove it"
            onConfirm={async () => {
              await api.removeTable(id);
              await client.invalidateQueries({ queryKey: ["tables"] });
            }}
          />
        ))}
      </div>
      <input
        ref={file}
        type="file"
        accept=".cube,.clf"
        className="sr-only"
        tabIndex={-1}
        aria-label="Table to import"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) importTable.mutate({ chosen, change: commitLater() });
          event.target.value = "";
        }}
      />
    </>
  );
}
