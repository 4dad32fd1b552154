import { cookies } from "next/headers";
import { redirect } from "next/navigation";
import { application } from "@/server/app/application";
import { PRODUCTION_COOKIE } from "@/contract/productions";
import { listProductions } from "@/store/productions";
import { listShots } from "@/store/queries";

export const dynamic = "force-dynamic";

/** The first shot of the production one is in opens on the Bench; where there is none, it begins with footage. */
export default async function Page() {
  const { db } = await application();
  const all = await listProductions(db);
  const entered = (await cookies()).get(PRODUCTION_COOKIE)?.value;
  const production = all.find(({ id }) => id === entered) ?? all.find(({ archived }) => !archived);
  const first = (await listShots(db)).find(({ shot }) => shot.productionId === production?.id);
  redirect(first ? `/bench/${encodeURIComponent(first.shot.id)}` : "/footage");
}
