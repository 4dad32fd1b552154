import { lampRoom } from "./lamp-room";
import { pinePath } from "./pine-path";
import type { DemoShot } from "./shot";
import { ticketWindow } from "./ticket-window";
import { tunnelMouth } from "./tunnel-mouth";
import { upperStation } from "./upper-station";

export const SHOTS: DemoShot[] = [upperStation, ticketWindow, pinePath, tunnelMouth, lampRoom];
