import Link from "next/link";

/** An address at which there is nothing. */
export default function NotFound() {
  return (
    <section className="grid h-full place-items-center">
      <div className="flex flex-col gap-3 text-center">
        <h1 className="text-lg font-semibold">There is no such page</h1>
        <p className="text-quiet">The address may be old, or mistyped.</p>
        <p className="flex justify-center gap-2">
          <Link href="/" className="btn btn-sm btn-primary">
            To the Bench
          </Link>
          <Link href="/footage" className="btn btn-sm">
            To Footage
          </Link>
        </p>
      </div>
    </section>
  );
}
