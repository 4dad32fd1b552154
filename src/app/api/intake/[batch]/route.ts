import { application } from "@/server/app/application";
import { takeIn } from "@/server/footage/intake";
import { respond } from "@/server/api/respond";

export const POST = (_: Request, { params }: { params: Promise<{ batch: string }> }) =>
  respond(async () => takeIn((await application()).db, (await params).batch));
