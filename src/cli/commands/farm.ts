import { Command } from "commander";
import { type FarmStatus, type FarmWorker, MAX_PRIORITY } from "../../contract/farm";
import { changingCommand, dataCommand, type Doing, tellDone } from "../doing";
import { numberOption, UsageError } from "../options";

interface DataOption extends Doing {
  data?: string;
}

/** The queue in a database. It is loaded only where it is needed. */
const farm = async () => ({
  ...(await import("../data")),
  ...(await import("../../server/farm/status")),
  ...(await import("../../server/farm/queue")),
  ...(await import("../../server/render/deliver")),
});

const workerLine = (one: FarmWorker, engine: number): string => {
  const { name, host, renderId, frames, framesPerSecond, isDraining, silentFor, isTakenForDead } = one;
  const does = renderId === null ? "waits" : `makes render ${renderId}`;
  const speed = framesPerSecond === null ? "" : `, ${framesPerSecond.toFixed(2)} frames a second`;
  const notes = [
    ...(isDraining ? ["takes no more work"] : []),
    ...(one.engine === engine ? [] : [`its engine, ${one.engine}, makes other pixels than ${engine} here`]),
    ...(isTakenForDead ? ["taken for dead"] : []),
  ];
  return [
    `${name} on ${host}: ${does}, ${frames} frames made${speed}, heard ${silentFor.toFixed(0)} s ago`,
    ...notes,
  ].join("; ");
};

function tellStatus({ engine, workers, renders }: FarmStatus): void {
  for (const worker of workers) console.log(workerLine(worker, engine));
  if (!workers.length) console.log("nobody works on the queue");
  for (const { id, name, state, paused, priority, frames, done, portions, ...render } of renders) {
    const { open, leased } = portions;
    const notes = [
      ...(paused ? ["paused"] : []),
      ...(priority ? [`priority ${priority}`] : []),
      ...(render.engine === null || render.engine === engine ? [] : [`for engine ${render.engine}`]),
    ];
    console.log(
      [
        `render ${id} (${name}): ${state}, ${done} of ${frames} frames; ${leased} portions in hand, ${open} wait`,
        ...notes,
      ].join("; "),
    );
  }
}

async function status({ data, json }: DataOption): Promise<void> {
  const { readingData, farmStatus } = await farm();
  await readingData(data, "halo farm", async ({ db }) => {
    const found = await farmStatus(db);
    if (json) console.log(JSON.stringify(found));
    else tellStatus(found);
  });
}

async function drain(worker: string, { data, undo = false, ...doing }: DataOption & { undo?: boolean }): Promise<void> {
  const { withData, setDraining } = await farm();
  await withData(data, "halo farm", async ({ db }) => {
    const name = doing.dryRun ? worker : await setDraining(db, worker, !undo);
    const says = undo ? "takes work again" : "takes no more work than it has in hand";
    tellDone(doing, { worker: name, isDraining: !undo }, `${name} ${says}`);
  });
}

/** What can be done with a render of the queue, in words for what comes of it and for what keeps it from it. */
const ACTIONS = {
  cancel: { says: "is cancelled; finished frames stay", not: "has ended" },
  pause: { says: "is paused", not: "has ended" },
  resume: { says: "is gone on with", not: "has ended" },
  again: { says: "is queued again; finished frames stay", not: "neither failed nor was cancelled, or is still made" },
} as const;
type Action = keyof typeof ACTIONS;

async function act(action: Action, id: string, { data, ...doing }: DataOption): Promise<void> {
  const { withData, renderQueue, renderNamed } = await farm();
  await withData(data, "halo farm", async ({ db }) => {
    const render = await renderNamed(db, id);
    const queue = renderQueue(db);
    const does: Record<Action, () => Promise<boolean>> = {
      cancel: () => queue.cancel(render.id),
      pause: () => queue.pause(render.id, true),
      resume: () => queue.pause(render.id, false),
      again: () => queue.again(render.id),
    };
    const { says, not } = ACTIONS[action];
    if (!doing.dryRun && !(await does[action]())) throw new UsageError(`render ${id} ${not}`);
    tellDone(doing, { render: render.id, action }, `render ${id} ${says}`);
  });
}

async function prioritise(id: string, priority: number, { data, ...doing }: DataOption): Promise<void> {
  const { withData, renderQueue, renderNamed } = await farm();
  await withData(data, "halo farm", async ({ db }) => {
    const render = await renderNamed(db, id);
    if (!doing.dryRun && !(await renderQueue(db).setPriority(render.id, priority)))
      throw new UsageError(`render ${id} has ended`);
    tellDone(doing, { render: render.id, priority }, `render ${id} has priority ${priority}`);
  });
}

export const farmCommand = (): Command =>
  new Command("farm")
    .description("The queue of renders: who works on what, and what is to come first")
    .addCommand(dataCommand("status", "What is queued, who works on what, frames a second, last heard").action(status))
    .addCommand(
      changingCommand("drain", "No more work for a worker, by its name or the beginning of its id")
        .argument("<worker>")
        .option("--undo", "work again, for one that has not ended")
        .action(drain),
    )
    .addCommand(
      changingCommand("cancel", "Ends a render; its finished frames stay")
        .argument("<id>")
        .action((id: string, options: DataOption) => act("cancel", id, options)),
    )
    .addCommand(
      changingCommand("pause", "No further frame of a render is begun")
        .argument("<id>")
        .action((id: string, options: DataOption) => act("pause", id, options)),
    )
    .addCommand(
      changingCommand("resume", "Goes on with a render that was paused")
        .argument("<id>")
        .action((id: string, options: DataOption) => act("resume", id, options)),
    )
    .addCommand(
      changingCommand("again", "Makes what a render that failed or was cancelled lacks")
        .argument("<id>")
        .action((id: string, options: DataOption) => act("again", id, options)),
    )
    .addCommand(
      changingCommand(
        "priority",
        `Which renders come first: a whole number from -${MAX_PRIORITY} to ${MAX_PRIORITY}, 0 at first`,
      )
        .argument("<id>")
        .argument("<priority>", "the higher is made first", numberOption(-MAX_PRIORITY, MAX_PRIORITY, true))
        .action(prioritise),
    );
