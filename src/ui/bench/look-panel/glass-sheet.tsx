"use client";
import { Printer } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { glassSheet } from "@/core/sheet/contents";
import { sheetHtml } from "@/core/sheet/html";
import { firstOf } from "@/core/frame/ranges";
import { useChannel } from "../../engine/engine";
import { PRIORITY } from "../../engine/questions";
import { useSource } from "../../pictures/use-source";
import { saveFile } from "../../shared/download";
import { shotTitle } from "../../shared/production";
import { useShownLook } from "../../shot/shown-look";

/** Frames wider than this are fetched smaller: only their size counts here, px. */
const WHOLE_UP_TO = 960;

/** Saves the glass sheet: what was done to the shot, with its figures, as a page that prints. */
export function GlassSheetButton() {
  const { shot, look, cabinet } = useShownLook();
  const source = useSource(shot, look);
  const channel = useChannel(PRIORITY.read);
  const [isMaking, setMaking] = useState(false);
  const make = () => {
    setMaking(true);
    const frame = firstOf(shot.frames);
    const divide = shot.footage.width > WHOLE_UP_TO ? 2 : 1;
    channel().ask(
      "beyond",
      { ...source, look, frame, divide },
      (overscan) => {
        const { footage, frames, frameRate, hasDepth, encoding, encodingReason } = shot;
        const about = {
          ...{ name: shotTitle(shot), footage: footage.pattern, width: footage.width, height: footage.height },
          ...{ frames, frameRate, hasDepth, timeCode: footage.timeCode, encoding: `${encoding} (${encodingReason})` },
        };
        const html = sheetHtml(glassSheet(look, cabinet, about, overscan), "Pale Halo.");
        saveFile(`${shot.id} ${look.name || "look"}, glass sheet.html`, html, "text/html");
        setMaking(false);
      },
      ({ message }) => {
        toast.error(message);
        setMaking(false);
      },
    );
  };
  return (
    <button
      type="button"
      className="btn btn-xs"
      disabled={isMaking}
      title="Lens, filters, every element with its figures and curves, as a page that prints"
      onClick={make}
    >
      <Printer size={12} /> {isMaking ? "Making the sheet …" : "Glass sheet"}
    </button>
  );
}
