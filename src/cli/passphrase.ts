import { createInterface } from "node:readline";
import { UsageError } from "./options";

const CTRL_C = "\u0003";
const BACKSPACES = ["\u007f", "\b"];

/** A line of a terminal that shows nothing of what is written. */
function hiddenLine(question: string): Promise<string> {
  const { stdin } = process;
  process.stderr.write(question);
  stdin.setRawMode(true).setEncoding("utf8").resume();
  return new Promise((resolve, reject) => {
    let line = "";
    const end = (done: () => void) => {
      stdin.off("data", hear).setRawMode(false).pause();
      process.stderr.write("\n");
      done();
    };
    const hear = (part: string) => {
      for (const sign of part) {
        if (sign === CTRL_C) return end(() => reject(new UsageError("no passphrase was given")));
        if (sign === "\r" || sign === "\n") return end(() => resolve(line));
        line = BACKSPACES.includes(sign) ? [...line].slice(0, -1).join("") : line + sign;
      }
    };
    stdin.on("data", hear);
  });
}

/** The first line of what is piped in. */
async function pipedLine(): Promise<string> {
  for await (const line of createInterface({ input: process.stdin })) return line;
  throw new UsageError("no passphrase was given: write it on the first line of the standard input");
}

/** A new passphrase: asked for twice at a terminal, else the first line of the standard input. Never an argument. */
export async function askNewPassphrase(name: string): Promise<string> {
  if (!process.stdin.isTTY) return pipedLine();
  const first = await hiddenLine(`Passphrase of ${name}: `);
  if ((await hiddenLine("Once more: ")) !== first) throw new UsageError("the two passphrases differ");
  return first;
}
