import { application } from "@/server/app/application";
import { respond } from "@/server/api/respond";
import { listShots } from "@/store/queries";

export const dynamic = "force-dynamic";

export const GET = () =>
  respond(async () => {
    const { db, demo } = await application();
    return (await listShots(db)).map(({ shot, footage, production }) => ({ ...shot, footage, production, progress: demo.shots[shot.id] ?? 1 }));
  });
