"use client";
import { Minimize2 } from "lucide-react";
import { useEffect, useState } from "react";
import { setView, useView } from "../../view/store";

/** How long the way back is seen after the pointer moved, ms. */
const SEEN_FOR = 2000;

/** The way back from the picture alone; it comes with the pointer. */
function WayBack({ moves }: { moves: number }) {
  const [isSeen, setSeen] = useState(true);
  useEffect(() => {
    setSeen(true);
    const timer = setTimeout(() => setSeen(false), SEEN_FOR);
    return () => clearTimeout(timer);
  }, [moves]);
  return (
    <button
      type="button"
      className={`btn btn-xs absolute top-2 right-2 transition-opacity focus-visible:opacity-100 ${isSeen ? "" : "opacity-0"}`}
      onClick={() => setView({ pictureAlone: false })}
    >
      <Minimize2 size={13} /> Back to the Bench (Shift F)
    </button>
  );
}

/** The picture in its place on the Bench, or filling the window. */
export function AlonePicture({ children }: { children: React.ReactNode }) {
  const { pictureAlone } = useView("pictureAlone");
  const [moves, setMoves] = useState(0);
  return (
    <div
      className={pictureAlone ? "fixed inset-0 z-40 bg-[#101010]" : "h-full"}
      onPointerMove={pictureAlone ? () => setMoves((count) => count + 1) : undefined}
    >
      {children}
      {pictureAlone && <WayBack moves={moves} />}
    </div>
  );
}
