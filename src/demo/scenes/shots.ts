import { lampRoom } from "./lamp-room";
import { pinePath } from "./pine-path";
import type { Shot } from "./shot";
import { ticketWindow } from "./ticket-window";
import { tunnelMouth } from "./tunnel-mouth";
import { upperStation } from "./upper-station";

export const SHOTS: Shot[] = [upperStation, ticketWindow, pinePath, tunnelMouth, lampRoom];
