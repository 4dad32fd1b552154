import type { Command } from "../../shell/command";
import { COMPARE_COMMANDS } from "./compare";
import { framesCommands } from "./frames";
import { lightPathCommands } from "./light-path";
import { lookCommands } from "./look";
import { PICTURE_COMMANDS } from "./picture";
import type { Place } from "./place";

export type { Opens } from "./place";

/** Everything that can be done on the Bench, for a shot. */
export const benchCommands = (context: Place): readonly Command[] => [
  ...COMPARE_COMMANDS,
  ...PICTURE_COMMANDS,
  ...lightPathCommands(context),
  ...framesCommands(context),
  ...lookCommands(context),
];
