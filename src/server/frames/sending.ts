import { Gate, type Deadline } from "../waiting/gate";

/** Pictures on their way to those who asked, bytes. */
const SENDING_BYTES = 512 * 2 ** 20;
const sending = new Gate(SENDING_BYTES);

/** Waits for room to send so many bytes; gives what lets it go again. Throws Busy. */
export const roomToSend = (bytes: number, deadline: Deadline): Promise<() => void> => sending.enter(bytes, deadline);

/**
 * Bytes given to the connection at a time, and how long it may take none, ms: a line of 26 kB/s and more is waited for.
 */
const PIECE = 2 ** 18;
const STANDS_STILL_MS = 10_000;

/**
 * Sends parts piece by piece, so that no more than a few are in memory beside them. `sent` is called when all was
 * taken, when the other side is gone, and when it has taken nothing for too long.
 */
export function bodyOf(parts: Uint8Array[], sent: () => void): ReadableStream<Uint8Array> {
  const pieces = parts.flatMap((part) =>
    Array.from({ length: Math.ceil(part.length / PIECE) }, (_, i) => part.subarray(i * PIECE, (i + 1) * PIECE)),
  );
  let at = 0;
  let stands: ReturnType<typeof setTimeout>;
  const end = () => {
    clearTimeout(stands);
    sent();
  };
  return new ReadableStream<Uint8Array>(
    {
      pull(controller) {
        clearTimeout(stands);
        controller.enqueue(pieces[at++]!.slice());
        if (at >= pieces.length) {
          controller.close();
          end();
        } else
          stands = setTimeout(() => {
            controller.error(new Error("The connection took nothing for too long"));
            end();
          }, STANDS_STILL_MS);
      },
      cancel: end,
    },
    { highWaterMark: 1 },
  );
}
