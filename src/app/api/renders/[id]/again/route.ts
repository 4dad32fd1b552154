import { application } from "@/server/app/application";
import { Refusal } from "@/server/errors/errors";
import { numberIn, respond } from "@/server/http/reply";
import { renderNamed } from "@/server/render/deliver";

export const POST = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { db, queue } = await application();
    await renderNamed(db, id);
    if (!(await queue.again(numberIn(id, "Render"))))
      throw new Refusal(
        "conflict",
        "That render is not one that failed or was cancelled, or its last frame is still made",
      );
  });
