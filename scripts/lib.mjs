// What the scripts share. Plain Node: they run before anything is installed.
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

export const root = dirname(dirname(fileURLToPath(import.meta.url)));
const stamps = join(root, ".cache", "stamps");

export function fail(message) {
  console.error(message);
  process.exit(1);
}

/** Runs a command to its end with our own output; stops everything when it fails. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { cwd: root, stdio: "inherit", ...options });
  if (error) fail(`${command} could not be started: ${error.message}`);
  if (status !== 0) process.exit(status ?? 1);
}

export const bin = (name) => join(root, "node_modules", ".bin", name);

function* filesUnder(path) {
  const full = join(root, path);
  if (!existsSync(full)) return;
  if (statSync(full).isFile()) {
    yield path;
    return;
  }
  for (const name of readdirSync(full).sort()) yield* filesUnder(join(path, name));
}

/** A fingerprint of files and folders, names and contents. */
export function fingerprint(paths) {
  const hash = createHash("sha256");
  for (const path of paths)
    for (const file of filesUnder(path))
      hash
        .update(file)
        .update("\0")
        .update(readFileSync(join(root, file)));
  return hash.digest("hex");
}

/** Does `work` unless it was already done for the same inputs and its outputs are still there. */
export function whenStale(name, inputs, outputs, work) {
  const stamp = join(stamps, name);
  const current = fingerprint(inputs);
  const done = existsSync(stamp) && readFileSync(stamp, "utf8") === current;
  if (done && outputs.every((output) => existsSync(join(root, output)))) return false;
  work();
  mkdirSync(stamps, { recursive: true });
  writeFileSync(stamp, current);
  return true;
}
