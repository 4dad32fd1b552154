import { compile } from "../../core/compile/compile";
import type { Look } from "../../core/look/look";
import type { Cabinet } from "../../core/profile/profiles";
import { startEngine } from "./engine";
import { floatsOf, type Frame } from "../../core/image/image";

const THREADS = 2;

/** Runs looks over computed charts of one size and gives working light. */
export function chartRunner(cabinet: Cabinet, { width, height }: { width: number; height: number }) {
  const { engine, close } = startEngine(THREADS);
  let serial = 0;
  const through = (look: Look, chart: Frame): Frame => {
    const plan = compile(look, cabinet, { width, height, frame: 1, sourceKey: `chart ${serial++}` }, { kind: "light" });
    const bytes = engine.run(plan, () => chart.data);
    return { width, height, data: floatsOf(bytes).slice() };
  };
  return { through, close };
}
