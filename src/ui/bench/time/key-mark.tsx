"use client";
import { ContextMenu } from "radix-ui";
import { firstOf, lastOf } from "@/core/frame/ranges";
import { valueAtFrame } from "@/core/look/at-frame";
import { describe } from "@/core/look/describe";
import { type Path, timedAt, withTimed } from "@/core/look/edit";
import { asKeyframes, hasKeyAt, timeableAt, withKeyframeAt, withoutKeyframes } from "@/core/look/timing";
import { withTrackOn } from "@/core/look/tracks";
import type { TimedValue } from "@/core/when/generator";
import { courseOf, GENERATORS } from "@/core/when/when";
import { useShownLook, valueIn } from "../../shot/shown-look";
import { commit } from "../../shot/document";
import { setView, useViewValue } from "../../view/store";
import { begun, type Offered, OFFERED } from "./generators";

const ITEM =
  "cursor-pointer rounded px-2 py-0.5 outline-none data-[disabled]:opacity-40 data-[highlighted]:bg-base-300";

/**
 * How a value is timed, beside it: a press sets a keyframe here, or takes it away; the second button offers the rest.
 */
export function KeyMark({ path }: { path: Path }) {
  const shown = useShownLook();
  const { look, at, shot } = shown;
  const kind = timeableAt(look, path);
  const timed = timedAt(look, path);
  // What nothing moves has no keyframe on any frame: it need not be drawn anew as they go by.
  const frame = useViewValue((state) => (timed ? state.frame : state.restingFrame));
  if (!kind) return <span className="w-4 shrink-0" aria-hidden />;
  const { label } = describe(look, path);
  const course = timed && courseOf(timed);
  const keyframe = { path, frame };
  const isHere = hasKeyAt(look, keyframe);
  const value = valueAtFrame(at, path) as TimedValue;
  const press = () => {
    if (isHere) return commit((now) => withoutKeyframes(now, [keyframe]));
    if (timed && course !== "keys" && course !== "noise") return setView({ timeDrawer: true });
    commit((now) => withKeyframeAt(now, path, value, frame));
  };
  const state = isHere
    ? "keyframe here"
    : course === "keys"
      ? "timed"
      : course
        ? `moved by ${GENERATORS[course].label.toLowerCase()}`
        : "not timed";
  const begin = (name: Offered) => {
    // The menu offers it where there is a track.
    if (name === "track") commit((now) => withTrackOn(now, path, now.tracks![0]!.id));
    else commit((now) => withTimed(now, path, begun(name, timed, value, frame)));
    setView({ timeDrawer: true });
  };
  const bake = () =>
    commit((now) =>
      asKeyframes(now, path, (at) => valueIn(shown, path, at) as TimedValue, {
        first: firstOf(shot.frames),
        last: lastOf(shot.frames),
      }),
    );
  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger asChild>
        <button
          type="button"
          aria-label={`${label}: ${state}`}
          aria-pressed={isHere}
          title={`${state}. Press to ${isHere ? "take the keyframe away" : "set a keyframe here"}; the second button offers more.`}
          className="grid h-5 w-4 shrink-0 place-items-center"
          onClick={press}
        >
          <svg width="11" height="11" viewBox="0 0 11 11" aria-hidden>
            <circle
              cx="5.5"
              cy="5.5"
              r="4"
              fill={isHere ? "var(--color-halo)" : timed ? "#6f6a60" : "none"}
              stroke={timed ? "var(--color-halo)" : "#6a6a6a"}
              strokeWidth="1.2"
            />
          </svg>
        </button>
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="z-50 min-w-56 rounded-md border border-line bg-base-200 p-1 shadow-xl">
          <ContextMenu.Item
            className={ITEM}
            disabled={isHere}
            onSelect={() => commit((now) => withKeyframeAt(now, path, value, frame))}
          >
            Keyframe here
          </ContextMenu.Item>
          {OFFERED.map(({ name, label }) => (
            <ContextMenu.Item
              key={name}
              className={ITEM}
              disabled={kind !== "number" || (name === "track" && !look.tracks?.length)}
              onSelect={() => begin(name)}
            >
              {label}
            </ContextMenu.Item>
          ))}
          <ContextMenu.Separator className="my-1 h-px bg-line" />
          <ContextMenu.Item className={ITEM} disabled={!timed} onSelect={bake}>
            Turn into keyframes
          </ContextMenu.Item>
          <ContextMenu.Item
            className={ITEM}
            disabled={!timed}
            onSelect={() => commit((now) => withTimed(now, path, undefined))}
          >
            Nothing moves it
          </ContextMenu.Item>
          <ContextMenu.Item className={ITEM} onSelect={() => setView({ timeDrawer: true })}>
            Show in the time drawer
          </ContextMenu.Item>
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}
