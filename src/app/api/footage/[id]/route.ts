import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { removeFootageNamed } from "@/server/removal/remove";

/** Removes footage that no shot uses. */
export const DELETE = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond(async () => removeFootageNamed((await application()).db, (await params).id));
