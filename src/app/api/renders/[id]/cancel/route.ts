import { application } from "@/server/app/application";
import { Refusal } from "@/server/errors/errors";
import { numberIn, respond } from "@/server/http/reply";
import { renderNamed } from "@/server/render/deliver";

export const POST = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { id } = await params;
    const { db, queue } = await application();
    await renderNamed(db, id);
    if (!(await queue.cancel(numberIn(id, "Render")))) throw new Refusal("conflict", "That render has already ended");
  });
