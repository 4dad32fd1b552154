"use client";
import { X } from "lucide-react";
import { useRef, useState } from "react";
import { setView, useView } from "../view/store";
import { MAX_EXPOSURE, signedStops } from "../view/exposure";

/** The viewing exposure, stops: how the picture is looked at, never a part of the look. */
export function ExposureField() {
  const { exposure } = useView("exposure");
  const [typed, setTyped] = useState<string | null>(null);
  /** Escape leaves the value as it was. */
  const isDropped = useRef(false);
  const put = (text: string) => {
    const value = Number(text.replace("−", "-").replace(",", "."));
    if (text.trim() !== "" && Number.isFinite(value))
      setView({ exposure: Math.min(MAX_EXPOSURE, Math.max(-MAX_EXPOSURE, value)) });
  };
  return (
    <span className={`flex items-center gap-0.5 ${exposure === 0 ? "" : "text-warning"}`}>
      <input
        type="text"
        inputMode="decimal"
        aria-label="Viewing exposure, stops"
        title="Viewing exposure in stops: shows the picture lighter or darker, and changes nothing else (, and .)"
        className={`input input-xs figures w-12 px-1 text-right ${exposure === 0 ? "text-quiet" : "halo text-warning"}`}
        value={typed ?? signedStops(exposure)}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => {
          if (typed !== null && !isDropped.current) put(typed);
          setTyped(null);
          isDropped.current = false;
        }}
        onKeyDown={(event) => {
          // Command keys are the Bench's again once a value is typed.
          isDropped.current = event.key === "Escape";
          if (event.key === "Enter" || event.key === "Escape") event.currentTarget.blur();
        }}
      />
      {exposure !== 0 && (
        <button
          type="button"
          className="btn btn-xs btn-square"
          aria-label="No viewing exposure"
          title="No viewing exposure (/)"
          onClick={() => setView({ exposure: 0 })}
        >
          <X size={11} />
        </button>
      )}
    </span>
  );
}
