"use client";
import Link from "next/link";
import { useEffect } from "react";
import Markdown from "react-markdown";
import { useWorkspace } from "../shared/workspace";

interface Listed {
  id: string;
  title: string;
}

/** The handbook: its pages by their titles, and one of them. */
export function HandbookView({ pages, shown }: { pages: readonly Listed[]; shown: Listed & { text: string } }) {
  const tell = useWorkspace((state) => state.set);
  useEffect(() => tell({ title: "Handbook" }), [tell]);
  const at = pages.findIndex(({ id }) => id === shown.id);
  const beside = (by: number) => {
    const page = pages[at + by];
    return page && <Link href={`/handbook/${page.id}`}>{by < 0 ? `← ${page.title}` : `${page.title} →`}</Link>;
  };
  return (
    <div className="grid h-full grid-cols-[260px_minmax(0,1fr)]">
      <nav aria-label="Pages" className="overflow-y-auto border-r border-line bg-base-200 p-3">
        <ol className="flex flex-col gap-0.5">
          {pages.map(({ id, title }, i) => (
            <li key={id}>
              <Link
                href={`/handbook/${id}`}
                aria-current={id === shown.id ? "page" : undefined}
                className={`flex gap-2 rounded px-2 py-1 ${id === shown.id ? "halo" : "text-quiet hover:text-base-content"}`}
              >
                <span className="figures w-5 text-right">{i || ""}</span>
                {title}
              </Link>
            </li>
          ))}
        </ol>
      </nav>
      <article className="handbook overflow-y-auto px-8 py-6" key={shown.id} tabIndex={0} aria-label={shown.title}>
        <div className="mx-auto max-w-[760px]">
          <h1 className="mb-4 text-xl font-semibold">{shown.title}</h1>
          <Markdown>{shown.text}</Markdown>
          <p className="mt-6 flex justify-between border-t border-line pt-3 text-quiet">
            <span>{beside(-1)}</span>
            <span>{beside(1)}</span>
          </p>
        </div>
      </article>
    </div>
  );
}
