import { Command, CommanderError } from "commander";
import { FileError } from "../formats/error";
import { benchCommand } from "./commands/bench";
import { cdlCommand } from "./commands/cdl";
import { convertCommand } from "./commands/convert";
import { demoFootageCommand } from "./commands/demo-footage";
import { doctorCommand } from "./commands/doctor";
import { inspectCommand } from "./commands/inspect";
import { checkCommand, listCommands, schemaCommand } from "./commands/lists";
import { looksCommand, differencesCommand } from "./commands/looks";
import { judgeCommand } from "./commands/judge";
import { lutCommand } from "./commands/lut";
import { chartCommand } from "./commands/chart";
import { measureCommand } from "./commands/measure";
import { overscanCommand } from "./commands/overscan";
import { sheetCommand } from "./commands/sheet";
import { wallCommand } from "./commands/wall";
import { kernelsCommand } from "./commands/kernels";
import { profileCommand } from "./commands/profile";
import { removeCommand } from "./commands/remove";
import { renderCommand } from "./commands/render";
import { stmapCommand } from "./commands/stmap";
import { stillsCommand } from "./commands/stills";
import { trackCommand } from "./commands/track";
import { farmCommand } from "./commands/farm";
import { productionCommand } from "./commands/production";
import { tokenCommand, userCommand } from "./commands/people";
import { workerCommand } from "./commands/worker";
import { verifyCommand } from "./commands/verify";
import { versionsCommand } from "./commands/versions";
import { closeMovies } from "../server/footage/movies/movie";
import { removeBegun } from "../server/storage/files";
import { version } from "../../package.json";
import { UsageError } from "./options";

/** Exit codes: 0 done, 1 failed part-way, 2 unusable input or options. */
const FAILED = 1;
const UNUSABLE = 2;

// The built command line lies in dist/ of the project; kernels and workers lie beside it.
process.env.HALO_ROOT ??= decodeURIComponent(new URL("..", import.meta.url).pathname).replace(/\/$/, "");

const program = new Command("halo")
  .description("Measured lens and filter character on footage, in scene-linear light.")
  .version(version);
for (const command of [
  renderCommand(),
  convertCommand(),
  inspectCommand(),
  ...listCommands(),
  schemaCommand(),
  checkCommand(),
  chartCommand(),
  measureCommand(),
  profileCommand(),
  stmapCommand(),
  overscanCommand(),
  wallCommand(),
  sheetCommand(),
  kernelsCommand(),
  verifyCommand(),
  trackCommand(),
  lutCommand(),
  cdlCommand(),
  judgeCommand(),
  looksCommand(),
  differencesCommand(),
  stillsCommand(),
  versionsCommand(),
  demoFootageCommand(),
  benchCommand(),
  doctorCommand(),
  removeCommand(),
  workerCommand(),
  farmCommand(),
  productionCommand(),
  userCommand(),
  tokenCommand(),
])
  program.addCommand(command);
for (const command of [program, ...program.commands, ...program.commands.flatMap((entry) => entry.commands)])
  command.exitOverride().configureOutput({ outputError: (text, write) => write(text.replace(/^error: /, "halo: ")) });

// Results that cannot be written are not there; nobody has to read what is said on the way.
process.stdout.on("error", ({ code }: NodeJS.ErrnoException) => {
  if (code !== "EPIPE") console.error(`halo: the results cannot be written (${code})`);
  removeBegun();
  process.exit(FAILED);
});
process.stderr.on("error", () => {});

// Told to stop, it takes away what it had begun; what is finished stays.
for (const [signal, code] of [
  ["SIGINT", 130],
  ["SIGTERM", 143],
  ["SIGHUP", 129],
] as const)
  process.on(signal, () => {
    removeBegun();
    process.exit(code);
  });

try {
  await program.parseAsync();
  closeMovies();
} catch (error) {
  if (error instanceof CommanderError) process.exit(error.exitCode === 0 ? 0 : UNUSABLE);
  console.error(`halo: ${(error as Error).message}`);
  process.exit(error instanceof UsageError || error instanceof FileError ? UNUSABLE : FAILED);
}
