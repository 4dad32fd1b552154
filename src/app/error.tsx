"use client";
import Link from "next/link";
import { Notice } from "@/ui/shared/notice";

/** A view that failed: what is saved is saved, and the way back. */
export default function Failed({ reset }: { reset(): void }) {
  return (
    <Notice
      alert
      title="This view has failed"
      text="What was changed is kept, and saved when the view is opened again."
    >
      <button type="button" className="btn btn-sm btn-primary" onClick={reset}>
        Open it again
      </button>
      <Link href="/footage" className="btn btn-sm">
        To Footage
      </Link>
    </Notice>
  );
}
