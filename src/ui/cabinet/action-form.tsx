"use client";
import { type ReactNode, useState } from "react";

/** A button among a profile's actions that opens a form below them; `onSubmit` is given how to close it. */
export function ActionForm({
  name,
  onSubmit,
  children,
}: {
  name: string;
  onSubmit(close: () => void): void;
  children: ReactNode;
}) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        className={`btn btn-xs ${isOpen ? "btn-primary" : ""}`}
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
      >
        {name}
      </button>
      {isOpen && (
        <form
          aria-label={name}
          className="order-last flex w-full flex-wrap items-center gap-2 rounded-md border border-line bg-base-200 p-2"
          onSubmit={(event) => {
            event.preventDefault();
            onSubmit(() => setOpen(false));
          }}
        >
          {children}
        </form>
      )}
    </>
  );
}
