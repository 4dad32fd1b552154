import { BenchView } from "@/ui/bench/bench-view";

export default async function Page({ params }: { params: Promise<{ shot: string }> }) {
  const { shot } = await params;
  return <BenchView key={shot} shotId={shot} />;
}
