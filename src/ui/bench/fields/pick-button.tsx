"use client";
import { Crosshair } from "lucide-react";
import { PICTURE } from "../../view/inspect";
import { type Picking, setView, useView } from "../../view/store";

/**
 * Asks for a press in the picture, and gives what is picked there to `take`; a second press of the button asks no more.
 */
export function PickButton({ label, id, before, take }: Picking & { label: string }) {
  const { picking } = useView("picking");
  const isPicking = picking?.id === id;
  return (
    <button
      type="button"
      className={`btn btn-xs ${isPicking ? "halo" : ""}`}
      aria-pressed={isPicking}
      onClick={() => setView({ picking: isPicking ? null : { id, before, take }, inspect: PICTURE })}
    >
      <Crosshair size={11} /> {isPicking ? "Click in the picture" : label}
    </button>
  );
}
