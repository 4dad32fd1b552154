import type { ReactNode } from "react";

/** In place of a view: what is the matter, and what can be done, as buttons. `alert` where something failed. */
export function Notice({
  title,
  text,
  alert = false,
  children,
}: {
  title: string;
  text: string;
  alert?: boolean;
  children: ReactNode;
}) {
  return (
    <section role={alert ? "alert" : undefined} className="grid h-full place-items-center">
      <div className="flex max-w-lg flex-col gap-3 text-center">
        <h1 className="text-lg font-semibold">{title}</h1>
        <p className="text-quiet">{text}</p>
        <p className="flex justify-center gap-2">{children}</p>
      </div>
    </section>
  );
}
