import { useEffect } from "react";
import { noteAddress } from "../shared/address";
import { hearView, viewNow } from "../view/store";

/** The address holds the place: the frame and the selected element. */
export function useAddress(): void {
  useEffect(() => {
    let told = "";
    const tell = () => {
      const { frame, selected, playing } = viewNow();
      if (playing) return;
      const query = new URLSearchParams({ frame: String(frame), ...(selected ? { element: selected } : {}) });
      if (String(query) === told) return;
      told = String(query);
      noteAddress(`${window.location.pathname}?${query}`);
    };
    tell();
    return hearView(tell);
  }, []);
}
