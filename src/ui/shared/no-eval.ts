import { z } from "zod";

/** The page's policy forbids code made from text; Zod would try it once, which the browser reports as a violation. */
z.config({ jitless: true });
