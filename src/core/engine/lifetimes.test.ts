import { describe, expect, test } from "vitest";
import { demoLooks } from "../../demo/looks";
import { demoProfiles } from "../../demo/glass/profiles";
import { compile } from "../compile/compile";
import { cabinetOf } from "../profile/profiles";
import { buffersIn } from "./kernels";
import { lifetimesOf } from "./lifetimes";

const cabinet = cabinetOf(demoProfiles());
const REQUEST = { width: 192, height: 108, frame: 3, sourceKey: "lifetimes", hasDepth: true };

describe.each(Object.entries(demoLooks()))("%s", (_, look) => {
  const plan = compile(look, cabinet, REQUEST, { kind: "display" });

  test.each([true, false])(
    "what is read has room then, and all of it is given back (inputs kept: %s)",
    (keepsInputs) => {
      const lasting = [...plan.constants.map(({ operation }) => operation.output), ...plan.extras.map((e) => e.buffer)];
      const live = new Set([0, ...lasting]);
      let input = 0;
      for (const { step, turns, releases } of lifetimesOf(plan, 0, 0, keepsInputs)) {
        for (const { operation, allocates, overwrites, releases: ended } of turns) {
          for (const id of allocates) {
            expect(live).not.toContain(id);
            live.add(id);
          }
          if (overwrites !== null) {
            expect(keepsInputs && overwrites === input, "a cached input is written over").toBe(false);
            live.add(operation.output);
          }
          for (const [name, id] of buffersIn(operation.kernel, operation.args)) expect(live, name).toContain(id);
          if (overwrites !== null) live.delete(overwrites);
          for (const id of ended) expect(live.delete(id)).toBe(true);
        }
        for (const id of releases) expect(live.delete(id)).toBe(true);
        live.delete(input);
        input = step.output;
      }
      expect([...live].sort()).toEqual([...new Set([input, ...lasting])].sort());
    },
  );
});
