import { basename } from "node:path";
import type { TableMade, TableWanted } from "../../contract/export";
import { lookOn } from "../../core/look/camera";
import type { Database } from "../../store/database";
import type { Footage, Shot } from "../../store/queries";
import { encodingNamed } from "../colour/library";
import { viewTablesFor } from "../colour/tables";
import { frameFileOf } from "../frames/frames";
import { readers } from "../readers/pool";
import type { Deadline } from "../waiting/gate";
import { Refusal } from "../errors/errors";
import { snapshotOf } from "../render/snapshot";
import { tableProblem } from "../readers/table";

/** Memory a table takes while it is made, bytes: its lattice twice as fine, several times over. */
const WEIGHT = 256 * 2 ** 20;

/**
 * The tonal part of a look as a table, made and measured by a thread of its own. Throws Refusal for what its format
 * does not hold.
 */
export async function exportForShot(
  db: Database,
  { shot, footage }: { shot: Shot; footage: Footage },
  { look, input: name, ...wanted }: TableWanted,
  deadline: Deadline,
): Promise<TableMade> {
  const [encoded, input] = await Promise.all([encodingNamed(db, shot.encoding), encodingNamed(db, name)]);
  const problem = tableProblem({ format: wanted.format, input });
  if (problem) throw new Refusal("invalid", problem);
  const file = frameFileOf({ shot, footage, encoded }, wanted.frame);
  const { profiles } = await snapshotOf(db, look, { shot, footage }, null);
  const tables = await viewTablesFor(db, look);
  const task = {
    file,
    encoding: encoded.order,
    input: input.order,
    look: lookOn(look, shot),
    profiles,
    tables,
    wanted,
  };
  const key = `table ${JSON.stringify([shot.id, wanted, name, look])}`;
  return readers().run("table", task, { key, name: basename(file.path), weight: WEIGHT, ...deadline });
}
