import type { NextConfig } from "next";
import { HEADERS } from "./src/server/http/headers";

const config: NextConfig = {
  serverExternalPackages: ["@electric-sql/pglite", "pg", "sharp", "drizzle-orm"],
  poweredByHeader: false,
  devIndicators: false,
  // Browsers ask for it by this name while a page has not said where its icon lies.
  rewrites: () => Promise.resolve([{ source: "/favicon.ico", destination: "/icon.svg" }]),
  headers: () =>
    Promise.resolve([{ source: "/:path*", headers: Object.entries(HEADERS).map(([key, value]) => ({ key, value })) }]),
};

export default config;
