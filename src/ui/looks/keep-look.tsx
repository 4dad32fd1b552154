"use client";
import type { Look } from "@/core/look/look";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { toast } from "sonner";
import { elementsOf, withElements } from "@/core/look/edit";
import { useView } from "../view/store";
import { api } from "../shared/api";
import { useShelf } from "./use-shelf";

/** Keeps the present look in the library, all of it or the elements that are marked on the path. */
export function KeepLook({ onKept }: { onKept(): void }) {
  const { look } = useShelf();
  const { selected, marked } = useView("selected", "marked");
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [purpose, setPurpose] = useState("");
  const [tags, setTags] = useState("");
  const [partly, setPartly] = useState(false);
  const chosen = [...new Set([...(selected === null ? [] : [selected]), ...marked])];
  const keep = useMutation({
    mutationFn: (made: Look) => api.keepLook(made),
    onSuccess: (_, { name: saved }) => {
      toast(`“${saved}” is in the library`);
      setOpen(false);
      onKept();
    },
  });
  if (!open)
    return (
      <button type="button" className="btn btn-xs self-start" onClick={() => setOpen(true)}>
        Keep the present look …
      </button>
    );
  const written = (): Look => {
    const { tracks: _, depth: __, ...rest } = look;
    const whole =
      partly && chosen.length
        ? withElements(
            rest,
            elementsOf(look).filter(({ id }) => chosen.includes(id)),
          )
        : rest;
    const words = tags
      .split(",")
      .map((tag) => tag.trim())
      .filter(Boolean);
    return {
      ...whole,
      name: name.trim() || look.name,
      purpose: purpose.trim() || undefined,
      tags: words.length ? words : undefined,
    };
  };
  const fields = [
    { label: "Name of the look", hint: look.name, most: 120, value: name, set: setName },
    { label: "What the look is for", hint: "What it is for", most: 400, value: purpose, set: setPurpose },
    { label: "Tags of the look", hint: "Tags, with commas between", most: 300, value: tags, set: setTags },
  ];
  return (
    <form
      aria-label="Keep the present look"
      className="flex flex-col gap-1 rounded-md border border-line p-2"
      onSubmit={(event) => {
        event.preventDefault();
        keep.mutate(written());
      }}
    >
      {fields.map(({ label, hint, most, value, set }) => (
        <input
          key={label}
          className="input input-xs w-full"
          aria-label={label}
          placeholder={hint}
          maxLength={most}
          value={value}
          onChange={(event) => set(event.target.value)}
        />
      ))}
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={partly && chosen.length > 0}
          disabled={!chosen.length}
          onChange={(event) => setPartly(event.target.checked)}
        />
        <span className={chosen.length ? "" : "text-quiet"}>
          {chosen.length
            ? `Only what is marked on the path (${chosen.length})`
            : "Only what is marked on the path (Ctrl and a press marks)"}
        </span>
      </label>
      <div className="flex gap-1">
        <button className="btn btn-xs btn-primary">Keep it</button>
        <button type="button" className="btn btn-xs" onClick={() => setOpen(false)}>
          Leave it
        </button>
      </div>
    </form>
  );
}
