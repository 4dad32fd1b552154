import Link from "next/link";
import { Notice } from "@/ui/shared/notice";

/** An address at which there is nothing. */
export default function NotFound() {
  return (
    <Notice title="There is no such page" text="The address may be old, or mistyped.">
      <Link href="/" className="btn btn-sm btn-primary">
        To the Bench
      </Link>
      <Link href="/footage" className="btn btn-sm">
        To Footage
      </Link>
    </Notice>
  );
}
