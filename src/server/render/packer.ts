/** A thread that packs chunks of pictures for the one that makes files of them. */
import { parentPort } from "node:worker_threads";
import { pack } from "../../formats/exr/compression";
import type { PackOrder } from "../../formats/exr/packing";
import { ownBytes } from "./encoding";
import type { PackAnswer } from "./packers";

function answer({ compression, rows, channels }: PackOrder): PackAnswer {
  try {
    return { bytes: ownBytes(pack(compression, rows, channels)) };
  } catch (error) {
    return { failed: (error as Error).message };
  }
}

parentPort!.on("message", (order: PackOrder) => {
  const said = answer(order);
  parentPort!.postMessage(said, "bytes" in said ? [said.bytes.buffer] : []);
});
