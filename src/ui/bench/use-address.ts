import { useEffect } from "react";
import { hearView, viewNow } from "../view/store";

/** The address holds the place: the frame and the selected element. */
export function useAddress(): void {
  useEffect(() => {
    let told = "";
    const tell = () => {
      const { frame, selected, playing } = viewNow();
      if (playing) return;
      const place = new URLSearchParams({ frame: String(frame), ...(selected ? { element: selected } : {}) });
      if (String(place) === told) return;
      told = String(place);
      window.history.replaceState(null, "", `${window.location.pathname}?${place}`);
    };
    tell();
    return hearView(tell);
  }, []);
}
