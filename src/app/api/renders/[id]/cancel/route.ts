import { application } from "@/server/app/application";
import { Refusal, respond } from "@/server/api/respond";

export const POST = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => {
    const { queue } = await application();
    if (!(await queue.cancel(Number((await params).id) || 0))) throw new Refusal(409, "That render has already ended");
  });
