"use client";
import { ENCODINGS } from "@/core/colour/encodings";
import { DEFAULT_SLATE, MAX_SLATE, SLATE_TOKENS, slateProblem } from "@/core/slate/slate";
import { type Beside, BESIDES, type RenderOrder } from "../../contract/renders";
import { useOwnEncodings } from "../shared/encodings";

export type CarriedOn = NonNullable<RenderOrder["carried"]>;

/** How what is rendered is encoded; `own`: what it is where nothing else is chosen. */
export function EncodedAs({ value, own, onChange }: { value: string; own: string; onChange(value: string): void }) {
  const made = useOwnEncodings();
  return (
    <label className="flex flex-col">
      Encoded as
      <select className="select select-sm w-52" value={value} onChange={({ target }) => onChange(target.value)}>
        <option value="">{own}</option>
        {ENCODINGS.map(({ name, label }) => (
          <option key={name} value={name}>
            {label}
          </option>
        ))}
        {made
          .filter(({ kind }) => kind === "log")
          .map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
      </select>
    </label>
  );
}

/** What goes on of an EXR's other layers, and of light beyond the frame. */
export function CarriedFields({ value, onChange }: { value: CarriedOn; onChange(value: CarriedOn): void }) {
  return (
    <>
      <label className="flex flex-col">
        Other layers
        <select
          className="select select-sm w-44"
          value={value.layers}
          onChange={({ target }) => onChange({ ...value, layers: target.value as CarriedOn["layers"] })}
        >
          <option value="warp">moved as the picture is</option>
          <option value="keep">as they are</option>
          <option value="drop">left out</option>
        </select>
      </label>
      <label className="flex flex-col">
        Beyond the frame
        <select
          className="select select-sm w-36"
          value={value.overscan}
          onChange={({ target }) => onChange({ ...value, overscan: target.value as CarriedOn["overscan"] })}
        >
          <option value="crop">cropped</option>
          <option value="keep">kept (overscan)</option>
        </select>
      </label>
    </>
  );
}

/** What goes along with the frames. */
export function BesidesField({ value, onChange }: { value: readonly Beside[]; onChange(value: Beside[]): void }) {
  return (
    <fieldset className="flex flex-wrap gap-x-4 gap-y-1">
      <legend className="mb-1 text-quiet">Beside the frames and their recipe</legend>
      {(Object.keys(BESIDES) as Beside[]).map((beside) => (
        <label key={beside} className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={value.includes(beside)}
            onChange={({ target }) =>
              onChange(target.checked ? [...value, beside] : value.filter((other) => other !== beside))
            }
          />
          {BESIDES[beside]}
        </label>
      ))}
    </fieldset>
  );
}

/** A line burnt into what is looked at; `value` is null for none. */
export function SlateField({ value, onChange }: { value: string | null; onChange(value: string | null): void }) {
  const problem = value === null ? null : slateProblem(value);
  return (
    <div className="flex flex-col">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={value !== null}
          onChange={({ target }) => onChange(target.checked ? DEFAULT_SLATE : null)}
        />
        A slate burnt in
      </label>
      <input
        className="input input-sm figures w-80"
        aria-label="Words of the slate"
        title={`${SLATE_TOKENS.map((token) => `{${token}}`).join(" ")} are filled in. Not in EXR, nor where it is encoded for further work.`}
        maxLength={MAX_SLATE}
        disabled={value === null}
        aria-invalid={problem !== null}
        value={value ?? ""}
        placeholder="none"
        onChange={({ target }) => onChange(target.value)}
      />
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
    </div>
  );
}

export type Place = NonNullable<RenderOrder["into"]>;

/** Where the files go; nothing where there is but the data folder. */
export function IntoField({
  roots,
  value,
  onChange,
}: {
  roots: readonly string[];
  value: Place | null;
  onChange(value: Place | null): void;
}) {
  if (!roots.length) return null;
  return (
    <>
      <label className="flex flex-col">
        Into
        <select
          className="select select-sm w-44"
          value={value?.root ?? ""}
          onChange={({ target }) => onChange(target.value ? { root: target.value, folder: value?.folder ?? "" } : null)}
        >
          <option value="">the data folder</option>
          {roots.map((root) => (
            <option key={root}>{root}</option>
          ))}
        </select>
      </label>
      {value && (
        <label className="flex flex-col">
          Folder in it
          <input
            className="input input-sm w-44"
            maxLength={200}
            placeholder="for example reel 2/v3"
            value={value.folder}
            onChange={({ target }) => onChange({ ...value, folder: target.value })}
          />
        </label>
      )}
    </>
  );
}
