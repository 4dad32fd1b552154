import { receiveFile } from "@/server/footage/intake";
import { respond } from "@/server/api/respond";

export const PUT = (request: Request, { params }: { params: Promise<{ batch: string; file: string }> }) =>
  respond(async () => {
    const { batch, file } = await params;
    return receiveFile(batch, decodeURIComponent(file), request.body);
  });
