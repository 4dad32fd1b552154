"use client";
import { zodResolver } from "@hookform/resolvers/zod";
import { FileUp } from "lucide-react";
import { useRef } from "react";
import { useForm, useWatch } from "react-hook-form";
import type { LogEncoding } from "@/core/colour/own-encoding";
import { logTransfer } from "@/core/colour/transfer/log";
import { useOwnEncodings } from "../../shared/encodings";
import { useEncodingChanges } from "./changes";
import { CurveFields } from "./curve-fields";
import { CurvePlot } from "./curve-plot";
import { type Draft, draftOf, draftSchema, fieldLabel, FIRST_DRAFT } from "./draft";
import { KnownPairs } from "./known-pairs";
import { exportEncoding, OwnEncodings } from "./own-encodings";

/** Makes, stores, imports and exports encodings of one's own: a log curve with a matrix, or a table from a file. */
export function EncodingMaker({ onClose }: { onClose(): void }) {
  const made = useOwnEncodings();
  const file = useRef<HTMLInputElement>(null);
  const { register, control, reset, setValue, handleSubmit, formState } = useForm<Draft, unknown, LogEncoding>({
    defaultValues: FIRST_DRAFT,
    resolver: zodResolver(draftSchema),
    mode: "onChange",
  });
  const draft = useWatch({ control }) as Draft;
  const open = (encoding: LogEncoding) => reset(draftOf(encoding));
  const { store, takeIn, remove } = useEncodingChanges(open);
  const read = draftSchema.safeParse(draft);
  // The curve is there to be judged before it has a name.
  const nameless = draftSchema.safeParse({ ...draft, name: "nameless" });
  const curve = nameless.success ? logTransfer(nameless.data.log) : null;
  const fault = draft.name === "" ? undefined : read.error?.issues[0];
  return (
    <section aria-label="Encodings of your own" className="mb-3 rounded-md border border-line bg-base-200 p-3">
      <div className="mb-2 flex items-center gap-2">
        <h2 className="font-semibold">Encodings of your own</h2>
        <button type="button" className="btn btn-xs" onClick={() => file.current?.click()}>
          <FileUp size={12} /> Import
        </button>
        <input
          ref={file}
          type="file"
          accept=".json,.cube,.clf"
          className="sr-only"
          tabIndex={-1}
          aria-label="Encoding to import"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (chosen) takeIn.mutate(chosen);
            event.target.value = "";
          }}
        />
        <span className="text-quiet">JSON, or a .cube or CLF table as the input transform</span>
        <button type="button" className="btn btn-xs ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      <OwnEncodings encodings={made} onOpen={open} onRemove={remove.mutate} />
      <form onSubmit={(event) => void handleSubmit((encoding) => store.mutate(encoding))(event)}>
        <div className="flex flex-wrap gap-6">
          <CurveFields
            register={register}
            errors={formState.errors}
            onMatrix={(matrix) => setValue("matrix", matrix, { shouldValidate: true })}
          />
          <div className="min-w-72 flex-1">
            <CurvePlot curve={curve} pairs={draft.pairs} />
          </div>
          <div>
            <p className="text-quiet">Known pairs, to check the curve by</p>
            <KnownPairs control={control} register={register} curve={curve} />
          </div>
        </div>
        <div className="mt-2 flex items-center gap-2">
          <button type="submit" className="btn btn-sm btn-primary" disabled={!read.success || store.isPending}>
            Keep it
          </button>
          <button
            type="button"
            className="btn btn-sm"
            disabled={!read.success}
            onClick={() => read.success && exportEncoding(read.data, read.data.id)}
          >
            Export
          </button>
          {fault && (
            <span role="status" className="text-warning">
              {fieldLabel(fault.path)}: {fault.message}
            </span>
          )}
        </div>
      </form>
    </section>
  );
}
