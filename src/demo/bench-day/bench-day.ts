/** What is shot on Bench day: every lens over three stops on charts, and filters by pairs of one scene. */
import type { Frame } from "../../core/image/image";
import type { Manifest } from "../../core/measure/manifest";
import type { FilterProfile, LensProfile, Profile } from "../../core/profile/profiles";
import { demoProfiles } from "../glass/profiles";
import { CAMERA, recorded } from "./camera";
import { edgeChart, flatField, gridChart, throughGlass } from "./charts";
import { discFrame, lampFrame } from "./lamps";
import { throughFilter } from "./through-filter";
import { lensOnCamera } from "./through-lens";

/** A frame that is still to be computed, under its file's name. */
interface Planned {
  file: string;
  light(): Frame;
}

/** A lens's or a filter's frames, and the manifest that makes a profile of them. */
export interface BenchDay {
  manifest: Manifest;
  frames: Planned[];
}

/** What Bench day is called among shots, and a lens's or filter's part of it: `bench-day/ID`. */
export const BENCH_DAY = "bench-day";
/** Lies beside the frames it lists, when all of them are there. */
export const MANIFEST = "manifest.json";

/** The lenses and filters there are frames of. Nets and stars spread light in patterns, which a pair does not measure. */
const UNMEASURED = ["silkmesh", "cross"];
export const benchDayGlass = (): Profile[] => demoProfiles().filter(({ id }) => !UNMEASURED.includes(id));

const NOTES = { by: "Tarn Line camera department", when: "Bench day" };
const LINEAR = "linear-ap1";

/** Wide open, and two and four of its stops down. */
const stopsOf = ({ stops = [] }: LensProfile) => [0, 2, 4].flatMap((i) => stops[i] ?? []);

export function lensFrames(lens: LensProfile): BenchDay {
  const focalLength = lens.focalLengths![0]!;
  const stops = stopsOf(lens);
  const frames: Planned[] = [];
  let seed = 1;
  const plan = (file: string, light: () => Frame) => {
    const own = seed++;
    frames.push({ file, light: () => recorded(light(), own) });
    return file;
  };
  const at = (stop: number) => lensOnCamera(lens, focalLength, stop);
  const manifest: Manifest = {
    id: `${lens.id}-measured`,
    name: `${lens.name}, measured`,
    set: lens.set,
    squeeze: lens.squeeze,
    imageCircle: lens.imageCircle,
    sensor: CAMERA.sensor,
    encoding: LINEAR,
    ...NOTES,
    frames: [
      ...stops.map((stop) => ({
        kind: "edges" as const,
        file: plan(`edges-T${stop}.exr`, () => edgeChart(at(stop))),
        focalLength,
        stop,
      })),
      ...stops.map((stop) => ({
        kind: "flat" as const,
        files: [false, true].map((turned) =>
          plan(`flat-T${stop}${turned ? "-turned" : ""}.exr`, () => flatField(at(stop), turned)),
        ),
        focalLength,
        stop,
      })),
      {
        kind: "grid" as const,
        file: plan("grid.exr", () => gridChart(at(stops.at(-1)!))),
        focalLength,
      },
      { kind: "point" as const, file: plan("lamps.exr", () => lampFrame(lens, at(stops[0]!))), focalLength },
      { kind: "point" as const, file: plan("lamps-defocused.exr", () => discFrame(lens, at(stops[0]!))), focalLength },
      {
        kind: "transmission" as const,
        without: plan("white.exr", () => throughGlass(null)),
        with: plan("white-through-glass.exr", () => throughGlass(lens)),
        focalLength,
      },
    ],
  };
  return { manifest, frames };
}

/** Of a filter's grades these are shot: enough to tell them apart. */
const MAX_GRADES = 2;
const FILTER_FOCAL_LENGTH = 50;

/** A filter before a scene (light, `sensor` in mm). */
export function filterFrames(filter: FilterProfile, scene: Frame, sensor: Manifest["sensor"]): BenchDay {
  const pitch = sensor.width / scene.width;
  const grades = filter.grades.slice(-1 - MAX_GRADES, -1);
  const name = (grade: string) => `with-${grade.replace("/", "-")}.exr`;
  const copy = (): Frame => ({ ...scene, data: scene.data.slice() });
  return {
    manifest: {
      id: `${filter.id}-measured`,
      name: `${filter.name}, measured`,
      squeeze: 1,
      sensor,
      encoding: LINEAR,
      ...NOTES,
      frames: grades.map(({ grade }) => ({
        kind: "pair" as const,
        without: "without.exr",
        with: name(grade),
        focalLength: FILTER_FOCAL_LENGTH,
        grade,
      })),
    },
    frames: [
      { file: "without.exr", light: () => recorded(copy(), 1) },
      ...grades.map((grade, i) => ({
        file: name(grade.grade),
        light: () => recorded(throughFilter(scene, grade, pitch, FILTER_FOCAL_LENGTH), i + 2),
      })),
    ],
  };
}
