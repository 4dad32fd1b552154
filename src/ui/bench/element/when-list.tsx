import { describe } from "@/core/look/describe";
import { timedAt } from "@/core/look/edit";
import { keysAt, timedPaths } from "@/core/look/timing";
import { courseOf } from "@/core/when/when";
import { useShownLook } from "../../shot/shown-look";
import { setView } from "../../view/store";
import { GENERATORS } from "@/core/when/when";

/** What of an element changes over the shot, each with what moves it. */
export function WhenList({ id }: { id: string }) {
  const { look } = useShownLook();
  const paths = timedPaths(look, id);
  const told = (path: (typeof paths)[number]): string => {
    const timed = timedAt(look, path)!;
    const course = courseOf(timed);
    const count = keysAt(look, path)?.length ?? 0;
    return course === "keys" ? `${count} ${count === 1 ? "keyframe" : "keyframes"}` : GENERATORS[course].label;
  };
  if (!paths.length)
    return (
      <p className="text-quiet">
        Nothing of it changes over the shot. The ring beside a value sets a keyframe; its menu (second button) offers
        noise, a ramp, a table or a track.
      </p>
    );
  return (
    <ul aria-label="What is timed" className="flex flex-col gap-0.5">
      {paths.map((path) => (
        <li key={path.join(" ")}>
          <button
            type="button"
            className="flex w-full justify-between rounded px-1 py-0.5 text-left hover:bg-base-300"
            title="Show in the time drawer"
            onClick={() => setView({ timeDrawer: true })}
          >
            <span>{describe(look, path).label}</span>
            <span className="figures text-quiet">{told(path)}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}
