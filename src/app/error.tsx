"use client";
import Link from "next/link";

/** A view that failed: what is saved is saved, and the way back. */
export default function Failed({ error, reset }: { error: Error; reset(): void }) {
  return (
    <section role="alert" className="grid h-full place-items-center">
      <div className="flex max-w-lg flex-col gap-3 text-center">
        <h1 className="text-lg font-semibold">This view has failed</h1>
        <p className="text-quiet">What was changed is kept and saved when the view is opened again. {error.message}</p>
        <p className="flex justify-center gap-2">
          <button type="button" className="btn btn-sm btn-primary" onClick={reset}>
            Open it again
          </button>
          <Link href="/footage" className="btn btn-sm">
            To Footage
          </Link>
        </p>
      </div>
    </section>
  );
}
