import type { Look } from "@/core/look/look";

/** A look that another view sends to the Bench: it is put on there, as a step that can be undone. */
let sent: { shotId: string; look: Look } | null = null;

export const sendLook = (shotId: string, look: Look): void => void (sent = { shotId, look });

/** What was sent to a shot, once. */
export function takeSentLook(shotId: string): Look | null {
  const found = sent?.shotId === shotId ? sent.look : null;
  sent = null;
  return found;
}
