"use client";
import { useState } from "react";
import { toast } from "sonner";
import type { ProfileForm, ShotWith } from "@/contract/cabinet";
import { NORMALISATIONS } from "@/core/profile/radial";
import type { Profile } from "@/core/profile/profiles";
import { api } from "../shared/api";
import { saveFile } from "../shared/download";
import { ActionForm } from "./action-form";
import { ShotWithInputs, useShotWith } from "./shot-with";

interface FormWords {
  label: string;
  extension: string;
  /** What has to be said of the pictures it is for. */
  wants: readonly (keyof ShotWith)[];
}

const FORMS: Record<ProfileForm, FormWords> = {
  json: { label: "Profile (JSON)", extension: "json", wants: [] },
  csv: { label: "Tables (CSV)", extension: "csv", wants: [] },
  calibration: {
    label: "Camera calibration (YAML)",
    extension: "yaml",
    wants: ["focalLength", "sensor", "size"],
  },
  polynomial: { label: "Radial polynomial (JSON)", extension: "json", wants: ["focalLength", "sensor", "unit"] },
  map: { label: "Distortion map (EXR)", extension: "exr", wants: ["focalLength", "sensor", "size", "inverse"] },
};

/** A profile written as a file of any form. */
export function ExportProfile({ profile }: { profile: Profile }) {
  const [form, setForm] = useState<ProfileForm>("json");
  const focalLength = profile.format === "pale-halo-lens" ? (profile.distortion?.[0]?.focalLength ?? 50) : 50;
  const [fields, setFields] = useShotWith(focalLength);
  const { label, extension, wants } = FORMS[form];
  const isLens = profile.format === "pale-halo-lens" && Boolean(profile.distortion?.length);
  const forms = (Object.keys(FORMS) as ProfileForm[]).filter((one) => isLens || !FORMS[one].wants.length);
  const write = async () => {
    const said = Object.fromEntries(wants.map((name) => [name, fields[name]]));
    const bytes = await api.profileFile(profile.id, form, said);
    saveFile(`${profile.id}${wants.length ? `-${form}` : ""}.${extension}`, bytes, "application/octet-stream");
  };
  return (
    <ActionForm
      name="Export"
      onSubmit={(close) => {
        write().then(close, (error: Error) => toast.error(error.message));
      }}
    >
      <select
        className="select select-xs w-56"
        aria-label="Form of the file"
        value={form}
        onChange={({ target: { value } }) => setForm(value as ProfileForm)}
      >
        {forms.map((one) => (
          <option key={one} value={one}>
            {FORMS[one].label}
          </option>
        ))}
      </select>
      <ShotWithInputs wants={wants} fields={fields} onChange={setFields} />
      {wants.includes("unit") && (
        <label className="flex items-center gap-1">
          r counted in
          <select
            className="select select-xs w-36"
            value={fields.unit}
            onChange={({ target: { value } }) => setFields({ unit: value as ShotWith["unit"] })}
          >
            {NORMALISATIONS.map((unit) => (
              <option key={unit}>{unit}</option>
            ))}
          </select>
        </label>
      )}
      <button type="submit" className="btn btn-xs" aria-label={`Save ${label}`}>
        Save
      </button>
    </ActionForm>
  );
}
