"use client";
import { QueryClientProvider } from "@tanstack/react-query";
import Link from "next/link";
import { usePathname, useRouter } from "next/navigation";
import { type ReactNode, useMemo } from "react";
import { Toaster } from "sonner";
import { Search } from "lucide-react";
import { type Command, useCommands } from "./command";
import { Finder, KeyList } from "./command-lists";
import { Productions } from "./productions";
import { SignedIn } from "./signed-in";
import { useKeys, useOffered } from "./use-keys";
import { queryClient } from "../shared/query-client";
import { useWorkspace } from "../shared/workspace";

const VIEWS = [
  { label: "Footage", path: "/footage" },
  { label: "Bench", path: "/bench" },
  { label: "Cabinet", path: "/cabinet" },
  { label: "Chart room", path: "/chart-room" },
  { label: "Test wall", path: "/test-wall" },
  { label: "Renders", path: "/renders" },
];

/** The Bench opens on the shot last worked on, or on the first there is. */
const pathOf = (view: string, shotId: string | null) =>
  view === "/bench" ? (shotId === null ? "/" : `/bench/${shotId}`) : view;

/** The frame of every view, but for the one where one signs in. */
export function Shell({ children }: { children: ReactNode }) {
  return usePathname() === "/sign-in" ? children : <Frame>{children}</Frame>;
}

/** The name, production and shot, the views, the state of saving. */
function Frame({ children }: { children: ReactNode }) {
  const path = usePathname();
  const router = useRouter();
  const { show } = useCommands();
  useKeys();
  const { shotId, title, saving, savingShot, problem } = useWorkspace();
  const commands = useMemo<Command[]>(
    () => [
      ...VIEWS.map((view) => ({
        name: view.label,
        group: "Views",
        run: () => router.push(pathOf(view.path, shotId)),
      })),
      { name: "Find a command", group: "Help", keys: ["$mod+k"], inFields: true, run: () => show("finder") },
      { name: "Handbook", group: "Help", run: () => router.push("/handbook") },
      { name: "The list of keys", group: "Help", keys: ["?", "Shift+?"], run: () => show("keys") },
    ],
    [router, shotId, show],
  );
  useOffered("shell", commands);
  return (
    <QueryClientProvider client={queryClient}>
      <div className="flex h-dvh flex-col">
        <header className="flex h-9 shrink-0 items-center gap-6 border-b border-line px-3">
          <Link href="/" prefetch={false} className="font-semibold tracking-wide">
            Pale <span className="text-halo">Halo</span>
          </Link>
          <span className="flex w-72 min-w-0 items-center gap-2 text-quiet">
            <Productions />
            {path.startsWith("/bench") && <span className="truncate">{title}</span>}
          </span>
          <nav aria-label="Views" className="flex gap-1">
            {VIEWS.map((view) => {
              const here = path.startsWith(view.path);
              const target = pathOf(view.path, shotId);
              return (
                <Link
                  key={view.path}
                  href={target}
                  // Seven views asked for with every page would wait for one another, and for the picture.
                  prefetch={false}
                  aria-current={here ? "page" : undefined}
                  className={`rounded px-3 py-1 ${here ? "halo text-base-content" : "text-quiet hover:text-base-content"}`}
                >
                  {view.label}
                </Link>
              );
            })}
          </nav>
          <div className="ml-auto flex gap-1">
            <button type="button" className="btn btn-xs" title="Find a command (Ctrl K)" onClick={() => show("finder")}>
              <Search size={12} /> Find
            </button>
            <Link
              href="/handbook"
              prefetch={false}
              className="btn btn-xs"
              aria-current={path.startsWith("/handbook") ? "page" : undefined}
            >
              Handbook
            </Link>
            <button
              type="button"
              className="btn btn-xs btn-square"
              aria-label="Keyboard"
              title="Keyboard (?)"
              onClick={() => show("keys")}
            >
              ?
            </button>
            <SignedIn />
          </div>
          <span className="w-48 text-right text-quiet" role="status" aria-label="State of saving">
            {saving === "failed" || savingShot === "failed" ? (
              <span className="text-error">{problem ? `Not saved: ${problem}` : "Not saved; trying again"}</span>
            ) : saving === "conflict" ? (
              <span className="text-warning">Changed in another window</span>
            ) : saving === "saving" || savingShot === "saving" ? (
              "Saving …"
            ) : (
              "Everything is saved"
            )}
          </span>
        </header>
        <main className="min-h-0 flex-1">{children}</main>
      </div>
      <KeyList />
      <Finder />
      <Toaster
        theme="dark"
        position="bottom-center"
        toastOptions={{
          style: { background: "#2c2c2c", color: "#dedede", border: "1px solid #3a3a3a", borderRadius: 6 },
        }}
      />
    </QueryClientProvider>
  );
}
