import { Command } from "commander";
import { benchCommand } from "./commands/bench";

const program = new Command("halo").description("Measured lens and filter character on footage, in scene-linear light.");
program.addCommand(benchCommand());
await program.parseAsync();
