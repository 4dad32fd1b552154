import { redirect } from "next/navigation";

/** The first visit opens the demo production on the Bench. */
export default function Page() {
  redirect("/bench/TL-010");
}
