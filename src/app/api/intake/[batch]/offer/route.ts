import { type Offered, offersBody } from "@/contract/intake";
import { readBody, respond } from "@/server/http/reply";
import { offered } from "@/server/intake/receive";

export const POST = (request: Request, { params }: { params: Promise<{ batch: string }> }) =>
  respond<Offered[]>(async () => offered((await params).batch, await readBody(request, offersBody)));
