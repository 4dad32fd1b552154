// npm run demo: sets up, builds what is not current, and serves the demo production on 127.0.0.1.
// PORT, HOST, HALO_HOSTS and HALO_DATA are honoured; `npm run demo -- --fresh` starts the demo data anew.
import { join } from "node:path";
import { computeDemoAhead } from "./build.mjs";
import { root } from "./lib.mjs";
import { serve } from "./serving.mjs";

const data = process.env.HALO_DATA ?? join(root, ".data");
const fresh = process.argv.includes("--fresh");
if (fresh) console.error(`Starting the demo data anew in ${data}`);
await serve("npm run demo", data, fresh ? { HALO_FRESH: "1" } : {}, computeDemoAhead);
