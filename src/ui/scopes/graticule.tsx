import type { ReactNode } from "react";
import type { Mark } from "./marks";

/** Figures at a scale's ends stand whole beside it, %. */
const EDGE = 3;
const percentOf = (at: number) => `${Math.min(100 - EDGE, Math.max(EDGE, 100 * at))}%`;

/** A black field whose height is a scale, with its figures at the left and its lines over what is drawn on it. */
export function Graticule({
  marks,
  height,
  children,
}: {
  marks: readonly Mark[];
  height: number;
  children: ReactNode;
}) {
  return (
    <div className="flex gap-1.5">
      <div className="figures relative w-8 shrink-0 text-right text-[0.78rem] text-quiet" aria-hidden>
        {marks.map(({ at, text }) => (
          <span key={text} className="absolute right-0 translate-y-1/2 leading-none" style={{ bottom: percentOf(at) }}>
            {text}
          </span>
        ))}
      </div>
      <div className="relative flex-1 overflow-hidden bg-black" style={{ height }}>
        {children}
        {marks.map(({ at, text }) => (
          <span
            key={text}
            aria-hidden
            className="absolute inset-x-0 h-px bg-white/14"
            style={{ bottom: `calc(${100 * at}% - ${at >= 1 ? 1 : 0}px)` }}
          />
        ))}
      </div>
    </div>
  );
}

/** The figures of a scale that runs across, under what is drawn on it. */
export const Along = ({ marks }: { marks: readonly Mark[] }) => (
  <div className="figures relative h-4 text-[0.78rem] text-quiet" aria-hidden>
    {marks.map(({ at, text }) => (
      <span key={text} className="absolute -translate-x-1/2 leading-4" style={{ left: percentOf(at) }}>
        {text}
      </span>
    ))}
  </div>
);
