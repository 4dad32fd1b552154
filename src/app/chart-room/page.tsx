import { ChartRoomView } from "@/ui/chart-room/chart-room-view";

export default function Page() {
  return <ChartRoomView />;
}
