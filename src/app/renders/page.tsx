import { RendersView } from "@/ui/renders/renders-view";

export default function Page() {
  return <RendersView />;
}
