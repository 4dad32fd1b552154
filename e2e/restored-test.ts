import { expect, test as base } from "@playwright/test";

interface Kept {
  look: object;
  revision: number;
}

/** A test on the demo production, whose looks are as they were when it has ended, however it did. */
export const test = base.extend<{ restored: void }>({
  restored: [
    async ({ request, baseURL }, use) => {
      const lookOf = async (id: string) => (await (await request.get(`/api/shots/${id}/look`)).json()) as Kept;
      const shots = (await (await request.get("/api/shots")).json()) as { id: string }[];
      const before = await Promise.all(shots.map(async ({ id }) => ({ id, look: (await lookOf(id)).look })));
      await use();
      for (const { id, look } of before)
        // What the page sent as it closed may arrive meanwhile: a revision that is behind is refused, and put anew.
        await expect
          .poll(async () => {
            const answer = await request.get(`/api/shots/${id}/look`);
            if (answer.status() === 404) return true; // The test removed this shot.
            const now = (await answer.json()) as Kept;
            if (JSON.stringify(now.look) === JSON.stringify(look)) return true;
            await request.put(`/api/shots/${id}/look`, {
              data: { look, revision: now.revision },
              headers: { origin: new URL(baseURL!).origin },
            });
            return false;
          })
          .toBe(true);
    },
    { auto: true },
  ],
});
