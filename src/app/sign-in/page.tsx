import { Suspense } from "react";
import { SignInView } from "@/ui/sign-in/sign-in-view";

export default function Page() {
  return (
    <Suspense>
      <SignInView />
    </Suspense>
  );
}
