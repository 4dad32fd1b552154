"use client";
import { useSearchParams } from "next/navigation";
import { type FormEvent, useState } from "react";
import { api } from "../shared/api";

/** Where one goes on: a path of this application, whatever the address says. */
function wayOn(to: string | null): string {
  const isOwn = to !== null && URL.canParse(to, window.location.origin);
  const url = isOwn ? new URL(to, window.location.origin) : null;
  return url?.origin === window.location.origin ? url.pathname + url.search : "/";
}

/** Asks who one is. */
export function SignInView() {
  const to = useSearchParams().get("to");
  const [name, setName] = useState("");
  const [passphrase, setPassphrase] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const [isBusy, setBusy] = useState(false);
  async function signIn(event: FormEvent): Promise<void> {
    event.preventDefault();
    setBusy(true);
    setProblem(null);
    try {
      await api.signIn(name, passphrase);
      // Anew, and not within the page: what it holds of whoever was here before is gone.
      window.location.assign(wayOn(to));
    } catch (error) {
      setProblem((error as Error).message);
      setPassphrase("");
      setBusy(false);
    }
  }
  return (
    <main className="grid h-dvh place-items-center">
      <form onSubmit={(event) => void signIn(event)} className="w-80 rounded-md border border-line bg-base-200 p-6">
        <h1 className="mb-5 text-lg font-semibold tracking-wide">
          Pale <span className="text-halo">Halo</span>
        </h1>
        <label className="mb-3 block">
          Name
          <input
            className="input input-sm mt-1 w-full"
            name="name"
            autoComplete="username"
            autoFocus
            required
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label className="mb-4 block">
          Passphrase
          <input
            className="input input-sm mt-1 w-full"
            name="passphrase"
            type="password"
            autoComplete="current-password"
            required
            value={passphrase}
            onChange={(event) => setPassphrase(event.target.value)}
          />
        </label>
        <button type="submit" className="btn btn-sm btn-primary w-full" disabled={isBusy}>
          {isBusy ? "Signing in …" : "Sign in"}
        </button>
        <p role="alert" className="mt-3 min-h-11 text-error">
          {problem}
        </p>
      </form>
    </main>
  );
}
