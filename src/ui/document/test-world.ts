import type { Look } from "@/core/look/look";
import type { CurrentLook } from "@/contract/looks";
import type { GestureId, SavedLook, SaveFailure, SaveNotice, World } from "./world";

/** A server, a clock and a browser as far as a document asks them; saves are answered when the test says so. */
export class TestWorld implements World {
  stands: SavedLook;

  constructor(first: Look) {
    this.stands = { look: first, revision: 1 };
  }

  sent: { saved: SavedLook; leaving: boolean; answer(result: number | SaveFailure): Promise<void> }[] = [];
  /** What is kept of the shot “s”. */
  kept: SavedLook | null = null;
  others: (readonly CurrentLook[])[] = [];
  announced: SaveNotice[] = [];
  said: string[] = [];
  hand: GestureId = null;
  private timers: { at: number; work(): void }[] = [];
  private now = 0;

  fetch = () => Promise.resolve(this.stands);
  save = (_: string, saved: SavedLook, leaving: boolean) =>
    new Promise<number | SaveFailure>((resolve) => {
      const answer = async (result: number | SaveFailure) => {
        if (typeof result === "number") this.stands = { look: saved.look, revision: result };
        resolve(result);
        await settled();
      };
      this.sent.push({ saved, leaving, answer });
    });
  putOnOthers = (looks: readonly CurrentLook[]) => {
    this.others.push(looks);
    return Promise.resolve(true);
  };
  unsaved = {
    keep: (_: string, saved: SavedLook) => void (this.kept = saved),
    forget: () => void (this.kept = null),
    take: (shotId: string) => Promise.resolve(shotId === "s" ? this.kept : null),
  };
  after = (ms: number, work: () => void) => {
    const timer = { at: this.now + ms, work };
    this.timers.push(timer);
    return () => void (this.timers = this.timers.filter((entry) => entry !== timer));
  };
  announce = (notice: SaveNotice) => void this.announced.push(notice);
  gesture = () => this.hand;
  say = (words: string) => void this.said.push(words);

  /** Lets so many ms pass. */
  async pass(ms: number): Promise<void> {
    this.now += ms;
    const due = this.timers.filter(({ at }) => at <= this.now);
    this.timers = this.timers.filter(({ at }) => at > this.now);
    for (const { work } of due) work();
    await settled();
  }
}
export const settled = () => new Promise((done) => setTimeout(done));
