import type { NextConfig } from "next";
import { HEADERS } from "./src/server/http/headers";

const config: NextConfig = {
  serverExternalPackages: ["@electric-sql/pglite", "pg", "sharp", "drizzle-orm"],
  poweredByHeader: false,
  devIndicators: false,
  headers: () =>
    Promise.resolve([{ source: "/:path*", headers: Object.entries(HEADERS).map(([key, value]) => ({ key, value })) }]),
};

export default config;
