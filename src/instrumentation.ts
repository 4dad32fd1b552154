/** Starts the application with the server, so that the demo footage is being computed before anybody looks. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== "nodejs") return;
  // Names and origins are looked at by the server program, before Next.js: without it nothing is served.
  if (!process.env.HALO_SERVED) throw new Error("Start the application with npm run demo, or node dist/server.mjs");
  await (await import("./server/app/application")).application();
}
