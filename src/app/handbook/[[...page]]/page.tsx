import { notFound } from "next/navigation";
import { handbookPages } from "@/server/handbook/pages";
import { HandbookView } from "@/ui/handbook/handbook-view";

export const dynamic = "force-dynamic";

export default async function Page({ params }: { params: Promise<{ page?: string[] }> }) {
  const [id] = (await params).page ?? [];
  const pages = await handbookPages();
  const shown = id === undefined ? pages[0] : pages.find((page) => page.id === id);
  if (!shown) notFound();
  return <HandbookView pages={pages.map(({ id: of, title }) => ({ id: of, title }))} shown={shown} />;
}
