"use client";
import { Download, Trash2 } from "lucide-react";
import { toast } from "sonner";
import type { LogEncoding } from "@/core/colour/own-encoding";
import type { ListedEncoding } from "../../../contract/encodings";
import { api } from "../../shared/api";
import { saveFile } from "../../shared/download";

export const exportEncoding = (body: unknown, id: string) =>
  saveFile(`${id}.json`, `${JSON.stringify(body, null, 1)}\n`, "application/json");

/** The encodings there are of one's own: opened, written out, removed. */
export function OwnEncodings({
  encodings,
  onOpen,
  onRemove,
}: {
  encodings: readonly ListedEncoding[];
  onOpen(encoding: LogEncoding): void;
  onRemove(encoding: ListedEncoding): void;
}) {
  if (!encodings.length) return null;
  return (
    <ul className="mb-3 flex flex-wrap gap-2">
      {encodings.map((entry) => (
        <li key={entry.id} className="flex items-center gap-1 rounded border border-line px-2 py-0.5">
          {entry.kind === "log" ? (
            <button type="button" className="link" onClick={() => onOpen(entry)}>
              {entry.name}
            </button>
          ) : (
            <span>
              {entry.name} <span className="text-quiet">(table)</span>
            </span>
          )}
          <button
            type="button"
            className="btn btn-xs btn-square"
            aria-label={`Export ${entry.name}`}
            onClick={() =>
              void api.encoding(entry.id).then(
                (whole) => exportEncoding(whole, entry.id),
                (error: Error) => toast.error(error.message),
              )
            }
          >
            <Download size={11} />
          </button>
          <button
            type="button"
            className="btn btn-xs btn-square"
            aria-label={`Remove ${entry.name}`}
            onClick={() => onRemove(entry)}
          >
            <Trash2 size={11} />
          </button>
        </li>
      ))}
    </ul>
  );
}
