import { Suspense } from "react";
import { CabinetView } from "@/ui/cabinet/cabinet-view";

export default function Page() {
  return (
    <Suspense>
      <CabinetView />
    </Suspense>
  );
}
