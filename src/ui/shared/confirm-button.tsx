"use client";
import { useState } from "react";
import { toast } from "sonner";

interface Props {
  label: string;
  /** What is said before it is done; asked for when the button is pressed. Throws where it cannot be done. */
  ask(): Promise<string>;
  /** The words of the button that does it. */
  confirm: string;
  onConfirm(): Promise<unknown>;
  /** For a screen reader, where the label alone does not say of what. */
  name?: string;
  disabled?: boolean;
}

/** A button for what cannot be undone: it says what will happen, where it stands, and asks once more. */
export function ConfirmButton({ label, ask, confirm, onConfirm, name, disabled }: Props) {
  const [words, setWords] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const run = async (work: () => Promise<unknown>) => {
    setBusy(true);
    try {
      await work();
    } catch (error) {
      toast.error((error as Error).message);
      setWords(null);
    } finally {
      setBusy(false);
    }
  };
  if (words === null)
    return (
      <button
        type="button"
        className="btn btn-xs"
        aria-label={name}
        disabled={disabled || busy}
        onClick={() => void run(async () => setWords(await ask()))}
      >
        {label}
      </button>
    );
  return (
    <div role="alert" className="flex flex-wrap items-center gap-2 rounded-md border border-line bg-base-300 p-2">
      <p className="basis-full">{words}</p>
      <button
        type="button"
        className="btn btn-xs btn-primary"
        disabled={busy}
        onClick={() =>
          void run(async () => {
            await onConfirm();
            setWords(null);
          })
        }
      >
        {confirm}
      </button>
      <button type="button" className="btn btn-xs" disabled={busy} onClick={() => setWords(null)}>
        Keep
      </button>
    </div>
  );
}
