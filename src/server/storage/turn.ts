const turns = new Map<string, Promise<unknown>>();

/** Does work that concerns one thing (a file, a row) after whatever else concerns it, never beside it. */
export function withLock<T>(what: string, work: () => Promise<T>): Promise<T> {
  const before = turns.get(what) ?? Promise.resolve();
  const turn = before.then(work, work);
  turns.set(what, turn);
  const forget = () => void (turns.get(what) === turn && turns.delete(what));
  turn.then(forget, forget);
  return turn;
}
