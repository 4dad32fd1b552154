"use client";
import { useEffect, useState } from "react";
import type { ScopeCounts } from "@/core/scopes/count";
import { countsOfPixels } from "@/core/scopes/waveform";
import { marksOf } from "../scopes/marks";
import { Waveform } from "../scopes/scope-view";

/** Counts of what an image element shows. */
function countsOfImage(image: HTMLImageElement): ScopeCounts {
  const copy = document.createElement("canvas");
  copy.width = image.naturalWidth;
  copy.height = image.naturalHeight;
  const from = copy.getContext("2d", { willReadFrequently: true })!;
  from.drawImage(image, 0, 0);
  return countsOfPixels(from.getImageData(0, 0, copy.width, copy.height).data, copy.width, copy.height);
}

/** The waveform of what an image element shows, in % of an sRGB display's signal. `serial` tells its pictures apart. */
export function WaveformOfImage({
  image,
  serial,
  label,
}: {
  image: HTMLImageElement | null;
  serial: string;
  label: string;
}) {
  const [counts, setCounts] = useState<ScopeCounts | null>(null);
  useEffect(() => {
    if (image?.naturalWidth) setCounts(countsOfImage(image));
  }, [image, serial]);
  return <Waveform counts={counts} reference={null} marks={marksOf("code", "srgb")} luma={false} label={label} />;
}
