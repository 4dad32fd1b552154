"use client";
import { useEffect, useState } from "react";
import { createPortal } from "react-dom";
import { toast } from "sonner";
import { enoughFor } from "../../pictures/scheduler";
import { setView, useView } from "../../view/store";
import { type Extent, viewTransformOf, WHOLE } from "../../viewport/place";
import { OwnLayer, ReferenceLayer } from "./layers";
import type { Pictures } from "./use-pictures";

/** Its size at first, px. */
const FEATURES = "popup,width=1280,height=760";
/** How often it is seen whether the window is still there, ms. */
const LOOK_EVERY = 500;
/** A window of this name that is open already is taken again. */
const NAME = "pale-halo-picture";

/** Takes the page's styles over into another document of the same origin. */
function dress(to: Document): void {
  to.title = "Pale Halo: the picture";
  to.documentElement.className = document.documentElement.className;
  to.documentElement.dataset.theme = document.documentElement.dataset.theme ?? "";
  for (const sheet of document.querySelectorAll("link[rel=stylesheet], style")) to.head.append(sheet.cloneNode(true));
  to.body.style.cssText = "margin:0;background:#101010;overflow:hidden";
}

/** A window of the application's own, closed with what opened it; null until it is there. */
function useOwnWindow(): Window | null {
  const [own, setOwn] = useState<Window | null>(null);
  useEffect(() => {
    const opened = window.open("", NAME, FEATURES);
    if (!opened) {
      toast("The browser did not let the application open a window: allow it for this address");
      setView({ ownWindow: false });
      return;
    }
    opened.document.body.replaceChildren();
    dress(opened.document);
    setOwn(opened);
    const watch = setInterval(() => opened.closed && setView({ ownWindow: false }), LOOK_EVERY);
    const close = () => opened.close();
    window.addEventListener("pagehide", close);
    return () => {
      clearInterval(watch);
      window.removeEventListener("pagehide", close);
      opened.close();
    };
  }, []);
  return own;
}

/** The picture as large as its room, with what it is compared with. */
function Projected({ pictures, frame, stretch, screen }: Props & { screen: Window }) {
  const { compare, held } = useView("compare", "held");
  const [room, setRoom] = useState<Extent>({ width: 0, height: 0 });
  useEffect(() => {
    const measure = () => setRoom({ width: screen.innerWidth, height: screen.innerHeight });
    measure();
    screen.addEventListener("resize", measure);
    return () => screen.removeEventListener("resize", measure);
  }, [screen]);
  const { shown, other } = pictures;
  const isBeside = other !== null && compare.way === "side" && !held;
  const half = isBeside ? { ...room, width: room.width / 2 } : room;
  const placing = viewTransformOf(WHOLE, half, { ...frame, stretch, ratio: screen.devicePixelRatio });
  const scale = Math.max(placing.scaleX, placing.scaleY) * screen.devicePixelRatio;
  const enough = room.width ? enoughFor(frame.width * scale, frame.width) : 1;
  useEffect(() => setView({ enoughInWindow: enough }), [enough]);
  const line = compare.way === "wipe" && !held ? compare.line : undefined;
  return (
    <div className="fixed inset-0 flex gap-px bg-[#101010]">
      <div className="relative h-full flex-1 overflow-hidden">
        <OwnLayer shown={shown} frame={frame} placing={placing} />
        {!isBeside && <ReferenceLayer other={other} frame={frame} placing={placing} line={line} />}
      </div>
      {isBeside && (
        <div className="relative h-full flex-1 overflow-hidden">
          <ReferenceLayer other={other} frame={frame} placing={placing} />
        </div>
      )}
    </div>
  );
}

interface Props {
  pictures: Pictures;
  frame: Extent;
  stretch: number;
}

/**
 * The picture in a window of its own, for a second screen: what the Bench shows, whole, whatever is zoomed into there.
 */
export function PictureWindow(props: Props) {
  const screen = useOwnWindow();
  return screen && createPortal(<Projected {...props} screen={screen} />, screen.document.body);
}
