/** Frames of charts that were sent to be measured: they are read where they wait, and become no shots. */
import { join } from "node:path";
import type { Database } from "../../store/database";
import { encodingNamed } from "../colour/library";
import { notFound } from "../errors/errors";
import { frameResponse, PIXEL_BYTES, READING } from "../frames/frames";
import { roomToSend } from "../frames/sending";
import { check } from "../intake/check";
import { batchFolder, checkPath } from "../intake/places";
import { readers } from "../readers/pool";
import { sizeOf } from "../storage/content";
import type { Deadline } from "../waiting/gate";

/** A sent file's light, as frames of shots are sent. Throws Refusal where it is not there, FileError for no picture. */
export async function sendChartFrame(
  db: Database,
  { batch, path, encoding }: { batch: string; path: string; encoding: string },
  deadline: Deadline,
): Promise<Response> {
  const name = checkPath(path.split("/"));
  const file = join(batchFolder(batch), name);
  if ((await sizeOf(file)) === null) throw notFound(`The frame ${name}, dropped some days ago,`);
  const { width, height } = await check(file, name);
  const { order } = await encodingNamed(db, encoding);
  const pixels = width * height * PIXEL_BYTES;
  const sent = await roomToSend(pixels, deadline);
  try {
    const { sent: frame } = await readers().run(
      "frame",
      {
        file: { path: file, choice: {}, black: false },
        encoding: order,
        plane: "light",
        divide: 1,
        overscan: false,
      },
      { key: `chart ${file} ${order.revision}`, name, weight: pixels * READING, ...deadline },
    );
    return frameResponse(frame, sent);
  } catch (error) {
    sent();
    throw error;
  }
}
