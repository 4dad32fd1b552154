import { PrintedView } from "@/ui/chart-room/printed/printed-view";

export default function Page() {
  return <PrintedView />;
}
