"use client";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { BetweenProblem, lensBetween } from "@/core/profile/between";
import type { LensProfile } from "@/core/profile/profiles";
import { api } from "../shared/api";
import { NumberInput } from "../shared/number-input";
import { ActionForm } from "./action-form";
import { useRefreshedCabinet } from "./refresh";

/** A lens at a focal length that was not measured, between this one and another of its set; kept as one's own. */
export function Between({ lens, onMade }: { lens: LensProfile; onMade(id: string): void }) {
  const cabinet = useQuery({ queryKey: ["cabinet"], queryFn: api.cabinet });
  const [otherId, setOther] = useState("");
  const [focalLength, setFocalLength] = useState<number | null>(null);
  const refresh = useRefreshedCabinet();
  const others = (cabinet.data ?? [])
    .map(({ profile }) => profile)
    .filter((one): one is LensProfile => one.format === "pale-halo-lens" && one.id !== lens.id)
    .toSorted((a, b) => Number(b.set === lens.set) - Number(a.set === lens.set));
  const other = others.find(({ id }) => id === otherId) ?? others[0];
  const middle = other && Math.sqrt((lens.focalLengths?.[0] ?? 50) * (other.focalLengths?.[0] ?? 50));
  const wanted = focalLength ?? (middle ? Math.round(middle) : 50);
  const keep = useMutation({
    meta: { showsItsError: true },
    mutationFn: () => api.keepProfile(lensBetween(lens, other!, wanted)),
    onSuccess: async ({ profile }) => {
      await refresh();
      onMade(profile.id);
    },
  });
  if (!other) return null;
  return (
    <ActionForm name="Between lenses" onSubmit={() => keep.mutate()}>
      <span>Between {lens.name} and</span>
      <select
        className="select select-xs w-44"
        aria-label="The other lens"
        value={other.id}
        onChange={({ target: { value } }) => {
          setOther(value);
          setFocalLength(null);
        }}
      >
        {others.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
      <NumberInput
        label="Focal length between"
        value={wanted}
        min={1}
        max={5000}
        step={0.1}
        unit="mm"
        onSave={(value) => value && setFocalLength(value)}
      />
      <button type="submit" className="btn btn-xs" disabled={keep.isPending}>
        Compute and keep
      </button>
      {keep.error && (
        <p role="alert" className="w-full text-warning">
          {keep.error instanceof BetweenProblem ? `${keep.error.message}.` : keep.error.message}
        </p>
      )}
    </ActionForm>
  );
}
