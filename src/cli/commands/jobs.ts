import { spawn } from "node:child_process";
import { availableParallelism } from "node:os";
import { dirname, resolve } from "node:path";
import { parse } from "../files";
import { argumentsOf, jobsSchema } from "../jobs-file";

/** Many renders from one file: each is a run of `render` of its own, so that none hangs on another. */

interface Ended {
  job: string;
  exit: number;
  result?: unknown;
  error?: string;
}

/** Runs a job, its paths seen from `folder`; what it says on the way is passed on under its name. */
function runJob(name: string, given: string[], folder: string): Promise<Ended> {
  return new Promise((done) => {
    const child = spawn(process.execPath, [process.argv[1]!, "render", ...given], {
      cwd: folder,
      stdio: ["ignore", "pipe", "pipe"],
    });
    let [out, said] = ["", ""];
    child.stdout.on("data", (part: Buffer) => (out += part.toString()));
    child.stderr.on("data", (part: Buffer) => {
      const lines = part.toString();
      said = lines.trim().split("\n").at(-1) ?? said;
      process.stderr.write(lines.replace(/^(?=.)/gm, `${name}: `));
    });
    const stop = () => child.kill();
    process.once("exit", stop);
    child.once("close", (code) => {
      process.off("exit", stop);
      const exit = code ?? 1;
      const last = out.trim().split("\n").at(-1);
      done({
        job: name,
        exit,
        ...(last ? { result: JSON.parse(last) as unknown } : {}),
        ...(exit && !last ? { error: said } : {}),
      });
    });
  });
}

interface JobsOptions {
  jobs: string;
  atOnce: number;
  dryRun?: boolean;
}

/** Renders what a jobs file lists. A line of JSON for each as it ends; those after one that failed are done all the same. */
export async function renderJobs({ jobs: path, atOnce, dryRun }: JobsOptions): Promise<void> {
  const { defaults, jobs } = parse(path, jobsSchema);
  const folder = dirname(resolve(path));
  const threads = Math.max(1, Math.floor(availableParallelism() / Math.min(atOnce, jobs.length)));
  const queue = jobs.map((job, i) => ({
    name: job.name ?? String(i + 1),
    given: [...argumentsOf({ threads, ...defaults, ...job }), ...(dryRun ? ["--dry-run"] : [])],
  }));
  const ended: Ended[] = [];
  const next = async () => {
    for (let job = queue.shift(); job; job = queue.shift()) {
      const one = await runJob(job.name, job.given, folder);
      ended.push(one);
      console.log(JSON.stringify(one));
    }
  };
  await Promise.all(Array.from({ length: atOnce }, next));
  const failed = ended.filter(({ exit }) => exit !== 0);
  if (failed.length) {
    console.error(`${failed.length} of ${ended.length} jobs failed: ${failed.map(({ job }) => job).join(", ")}`);
    process.exitCode = 1;
  }
}
