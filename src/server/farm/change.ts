import type { RenderChange } from "../../contract/farm";
import type { Database } from "../../store/database";
import { Refusal } from "../errors/errors";
import { renderNamed } from "../render/deliver";
import type { RenderQueue } from "./queue";

/** Pauses a render that waits or is made, goes on with it, or says when it is its turn. Throws Refusal. */
export async function changeRender(
  db: Database,
  queue: RenderQueue,
  named: string,
  { paused, priority }: RenderChange,
): Promise<void> {
  const { id } = await renderNamed(db, named);
  const ended = new Refusal("conflict", `Render ${id} has already ended`);
  if (priority !== undefined && !(await queue.setPriority(id, priority))) throw ended;
  if (paused !== undefined && !(await queue.pause(id, paused))) throw ended;
}
