// Builds: the kernels (WebAssembly), the programs outside Next.js (command line, workers), and the application.
import { spawn } from "node:child_process";
import { copyFileSync, cpSync, mkdirSync, rmSync } from "node:fs";
import { join } from "node:path";
import { unpackLetters } from "./letters.mjs";
import { bin, root, run, whenStale } from "./lib.mjs";

export function buildKernels() {
  const outputs = ["dist/kernels.wasm", "public/engine/kernels.wasm"];
  whenStale("kernels", ["assembly", "scripts/build.mjs"], outputs, () => {
    console.error("Compiling the kernels …");
    mkdirSync(join(root, "dist"), { recursive: true });
    mkdirSync(join(root, "public/engine"), { recursive: true });
    const flags = [
      "--transform",
      "./scripts/invert-loops.mjs",
      "-O3",
      "--noAssert",
      "--runtime",
      "stub",
      "--use",
      "abort=",
      "--disableWarning",
      "112",
    ];
    const memory = ["--importMemory", "--sharedMemory", "--initialMemory", "16", "--maximumMemory", "65536"];
    const features = ["simd", "threads", "bulk-memory"].flatMap((feature) => ["--enable", feature]);
    run(bin("asc"), ["assembly/index.ts", "-o", "dist/kernels.wasm", ...flags, ...memory, ...features]);
    copyFileSync(join(root, "dist/kernels.wasm"), join(root, "public/engine/kernels.wasm"));
  });
}

const PROGRAMS = {
  halo: "src/cli/main.ts",
  "engine-helper": "src/server/engine/helper.ts",
  reader: "src/server/readers/reader.ts",
  encoder: "src/server/render/encoder.ts",
  packer: "src/server/render/packer.ts",
  "render-worker": "src/server/render/worker.ts",
  server: "src/server/app/web.ts",
  "demo-worker": "src/demo/worker.ts",
  "bench-day-worker": "src/demo/bench-day/worker.ts",
  "empty-database": "src/store/make-empty.ts",
};
const BROWSER = {
  host: "src/ui/engine/host/host.worker.ts",
  helper: "src/ui/engine/host/helper.worker.ts",
  track: "src/ui/track/track.worker.ts",
  measure: "src/ui/chart-room/measure.worker.ts",
  "movie-in": "src/ui/movies/take-in.worker.ts",
  "movie-out": "src/ui/movies/deliver.worker.ts",
};

/** Packages with programs or files of their own; all others are built in: a program starts in half the time. */
const APART = ["@electric-sql/pglite", "drizzle-orm", "esbuild", "next", "pg", "pdfjs-dist", "sharp"];

const LETTERS = "archivo-latin-400-normal.woff";
const PDF_WORKER = "public/engine/pdf.worker.mjs";

export function buildPrograms() {
  const outputs = [
    ...Object.keys(PROGRAMS).map((name) => `dist/${name}.mjs`),
    ...Object.keys(BROWSER).map((name) => `public/engine/${name}.js`),
    PDF_WORKER,
  ];
  whenStale("programs", ["src", "scripts/build.mjs", "package-lock.json"], outputs, () => {
    rmSync(join(root, "dist/chunks"), { recursive: true, force: true });
    const entries = (set) => Object.entries(set).map(([name, path]) => `${name}=${path}`);
    const common = ["--bundle", "--log-level=warning", "--target=es2022"];
    run(bin("esbuild"), [
      ...entries(PROGRAMS),
      ...common,
      "--platform=node",
      // Packages that are written both ways are taken as modules.
      "--main-fields=module,main",
      "--format=esm",
      ...APART.map((name) => `--external:${name}`),
      // What of the packages is written for require still finds it.
      `--banner:js=import{createRequire as halo_r}from"node:module";const require=halo_r(import.meta.url);`,
      "--out-extension:.js=.mjs",
      "--splitting",
      "--chunk-names=chunks/[name]-[hash]",
      "--outdir=dist",
      "--sourcemap",
    ]);
    run(bin("esbuild"), [...entries(BROWSER), ...common, "--format=iife", "--outdir=public/engine", "--minify"]);
    // Letters of pages that are drawn here.
    mkdirSync(join(root, "dist/fonts"), { recursive: true });
    unpackLetters(join(root, "node_modules/@fontsource/archivo/files", LETTERS), join(root, "dist/fonts/letters.ttf"));
    // Reading PDF pages: its thread, and the fonts that pages name without holding them.
    const pdf = join(root, "node_modules/pdfjs-dist");
    copyFileSync(join(pdf, "build/pdf.worker.min.mjs"), join(root, PDF_WORKER));
    cpSync(join(pdf, "standard_fonts"), join(root, "public/engine/fonts"), { recursive: true });
  });
}

/** An empty database, which new data folders begin with a copy of. */
export function buildEmptyDatabase() {
  const folder = "dist/empty-database";
  whenStale("database", ["src/store", "package-lock.json"], [`${folder}/database/PG_VERSION`], () => {
    run(process.execPath, [
      join(root, "dist/empty-database.mjs"),
      join(root, folder),
      join(root, "src/store/migrations"),
    ]);
  });
}

const AHEAD = "dist/demo-ahead";

/**
 * The frames that shots open on, and the plates others are drawn from, computed beside the build; null where they are
 * there. Resolves when all is done.
 */
export function computeDemoAhead() {
  let computing = null;
  whenStale("opening", ["src/demo", "src/formats/exr"], [`${AHEAD}/TL-050.plates`], () => {
    const folder = join(root, AHEAD);
    rmSync(folder, { recursive: true, force: true });
    const args = ["demo-footage", "--opening", "--plates", "--out", folder];
    computing = spawn(process.execPath, [join(root, "bin/halo"), ...args], { stdio: "ignore" });
  });
  return computing && new Promise((done) => computing.once("exit", done));
}

export function buildApplication() {
  const inputs = ["src", "public", "package-lock.json", "next.config.ts", "postcss.config.mjs", "tsconfig.json"];
  whenStale("application", inputs, [".next/BUILD_ID"], () => {
    console.error("Building the application …");
    run(bin("next"), ["build"], {
      env: { ...process.env, NEXT_TELEMETRY_DISABLED: "1" },
      stdio: ["ignore", "pipe", "inherit"],
    });
  });
}

if (process.argv[1]?.endsWith("build.mjs")) {
  buildKernels();
  buildPrograms();
  buildEmptyDatabase();
  buildApplication();
}
