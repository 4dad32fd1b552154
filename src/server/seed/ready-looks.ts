import { readyMadeLooks } from "../../demo/ready-made";

/** Looks that ship with the application. */
export const readyLooks = readyMadeLooks;
