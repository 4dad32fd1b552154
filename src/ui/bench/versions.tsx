"use client";
import { useQueryClient } from "@tanstack/react-query";
import { Popover } from "radix-ui";
import { useState } from "react";
import { toast } from "sonner";
import { api } from "../shared/api";
import { ConfirmButton } from "../shared/confirm-button";
import { useBench } from "./store";
import type { ShotDetail } from "../../contract/shots";

/** Kept looks of the shot: keep one, name it, return to one. */
export function Versions({ shot }: { shot: ShotDetail }) {
  const { look, change } = useBench();
  const client = useQueryClient();
  const [name, setName] = useState("");
  const refresh = () => client.invalidateQueries({ queryKey: ["shot", shot.id] });
  const failed = (error: Error) => toast.error(error.message);
  const keep = async () => {
    if (!look) return;
    const version = await api.keepVersion(shot.id, look, name.trim() || undefined);
    setName("");
    toast(`Kept as ${version.name}`);
    await refresh();
  };
  return (
    <Popover.Root>
      <Popover.Trigger className="btn btn-xs" data-versions>
        Versions ({shot.versions.length})
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={6}
          className="z-40 w-96 rounded-md border border-line bg-base-200 p-3 shadow-xl"
          aria-label="Versions"
        >
          <form
            className="mb-2 flex gap-2"
            onSubmit={(event) => {
              event.preventDefault();
              keep().catch(failed);
            }}
          >
            <input
              className="input input-xs flex-1"
              aria-label="Name of the version"
              placeholder={`Version ${(shot.versions[0]?.number ?? 0) + 1}`}
              value={name}
              maxLength={120}
              onChange={(event) => setName(event.target.value)}
            />
            <button className="btn btn-xs btn-primary">Keep this look</button>
          </form>
          <ul className="max-h-64 overflow-y-auto">
            {shot.versions.map((version) => (
              <li key={version.id} className="flex flex-wrap items-center gap-2 border-t border-line py-1">
                <span className="figures w-6 text-quiet">{version.number}</span>
                <input
                  className="min-w-0 flex-1 rounded bg-transparent px-1 hover:bg-base-300 focus:bg-base-300"
                  aria-label={`Name of version ${version.number}`}
                  defaultValue={version.name}
                  onBlur={(event) => {
                    const next = event.target.value.trim();
                    if (next && next !== version.name)
                      api.renameVersion(shot.id, version, next).catch(failed).then(refresh);
                  }}
                  onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
                />
                <button type="button" className="btn btn-xs" onClick={() => change(version.body)}>
                  Return to it
                </button>
                <ConfirmButton
                  label="Remove"
                  name={`Remove version ${version.number}`}
                  ask={() => Promise.resolve(`Remove version ${version.number}, “${version.name}”?`)}
                  confirm="Remove it"
                  onConfirm={() => api.removeVersion(shot.id, version.id).then(refresh)}
                />
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
