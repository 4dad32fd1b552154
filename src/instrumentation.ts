/** Starts the application with the server, so that the demo footage is being computed before anybody looks. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME === "nodejs") await (await import("./server/app/application")).application();
}
