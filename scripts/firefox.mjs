// Where Firefox is, for the short run in it.
import { existsSync } from "node:fs";

export const FIREFOX = process.env.FIREFOX ?? "/usr/bin/firefox-esr";
export const isFirefoxThere = () => existsSync(FIREFOX);
