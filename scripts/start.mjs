// npm start: sets up, builds what is not current, and serves a data folder of one's own, empty at first, on 127.0.0.1.
// HALO_DATA names the folder; left out it is pale-halo in the user's data folder. PORT, HOST and HALO_HOSTS are
// honoured.
import { homedir } from "node:os";
import { join } from "node:path";
import { serve } from "./serving.mjs";

const own = join(process.env.XDG_DATA_HOME ?? join(homedir(), ".local", "share"), "pale-halo");
await serve("npm start", process.env.HALO_DATA ?? own, { HALO_DEMO: "no" });
