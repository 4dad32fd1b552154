import { FootageView } from "@/ui/footage/footage-view";

export default function Page() {
  return <FootageView />;
}
