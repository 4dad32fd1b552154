import { expect, test } from "vitest";
import { keptFolder, liesElsewhere, placeOf, rootsIn, underRoot } from "./named-roots";

const here = rootsIn("plates=/mnt/plates:/plain:relative:=/x:b ad=/y:plates-b=/mnt/plates-b/");

test("roots are paths, or names with paths; what is neither is none", () => {
  expect(here).toEqual([
    { name: "plates", path: "/mnt/plates" },
    { name: null, path: "/plain" },
    { name: "plates-b", path: "/mnt/plates-b" },
  ]);
});

test("a folder is kept by its root's name, and lies where each machine has that root", () => {
  const kept = keptFolder(here, "/mnt/plates/reel 1/a");
  expect(kept).toBe("root:plates/reel 1/a");
  expect(placeOf(kept, here, "/data", "V")).toBe("/mnt/plates/reel 1/a");
  expect(placeOf(kept, rootsIn("plates=/Volumes/P"), "/data", "V")).toBe("/Volumes/P/reel 1/a");
  expect(keptFolder(here, "/mnt/plates")).toBe("root:plates");
  expect(placeOf("root:plates", here, "/data", "V")).toBe("/mnt/plates");
  // A neighbour of a similar name is another; one without a name is kept as it is.
  expect(keptFolder(here, "/mnt/plates-b/x")).toBe("root:plates-b/x");
  expect(keptFolder(here, "/mnt/platesc/x")).toBe("/mnt/platesc/x");
  expect(keptFolder(here, "/plain/x")).toBe("/plain/x");
  expect(placeOf("/plain/x", here, "/data", "V")).toBe("/plain/x");
  expect(placeOf("footage/x", here, "/data", "V")).toBe("/data/footage/x");
  expect(["/plain/x", kept, "footage/x"].map(liesElsewhere)).toEqual([true, true, false]);
});

test("a root that a machine does not name is told by its name, with what names it", () => {
  expect(() => placeOf(underRoot("plates", "x"), [], "/data", "HALO_FOOTAGE")).toThrow(
    "The root plates is not named on this machine; say where it is: HALO_FOOTAGE=plates=/…",
  );
});
