import { redirect } from "next/navigation";
import { application } from "@/server/app/application";
import { listShots } from "@/store/queries";

export const dynamic = "force-dynamic";

/** The first visit opens the first shot on the Bench; where there is none, it begins with footage. */
export default async function Page() {
  const [first] = await listShots((await application()).db);
  redirect(first ? `/bench/${encodeURIComponent(first.shot.id)}` : "/footage");
}
