import { Suspense } from "react";
import { WallView } from "@/ui/test-wall/wall-view";

export default function Page() {
  return (
    <Suspense>
      <WallView />
    </Suspense>
  );
}
