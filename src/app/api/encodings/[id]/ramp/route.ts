import type { GreyRamp } from "@/contract/encodings";
import { application } from "@/server/app/application";
import { respond } from "@/server/http/reply";
import { encodingNamed } from "@/server/colour/library";
import { greyRamp } from "@/server/colour/ramp";

export const dynamic = "force-dynamic";

/** Working light of grey code values, 0 to 1. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string }> }) =>
  respond<GreyRamp>(async () => {
    const { encoding } = await encodingNamed((await application()).db, (await params).id);
    return { family: encoding.family, ...greyRamp(encoding) };
  });
