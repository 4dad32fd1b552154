import { Command } from "commander";
import { changingCommand, dataCommand, type Doing, tellDone } from "../doing";
import { askNewPassphrase } from "../passphrase";

interface DataOption extends Doing {
  data?: string;
}

/** Users in a data folder. The database is loaded only where it is needed. */
const people = async () => ({
  ...(await import("../data")),
  ...(await import("../../server/people/users")),
});

async function add(name: string, { data, ...doing }: DataOption): Promise<void> {
  const passphrase = doing.dryRun ? "" : await askNewPassphrase(name);
  const { withData, addUserNamed } = await people();
  await withData(data, "halo user", async ({ db }) => {
    const added = doing.dryRun ? name : await addUserNamed(db, name, passphrase);
    tellDone(doing, { user: added }, `${added} may come in, and who does not say who they are may not any more`);
  });
}

async function change(name: string, { data, ...doing }: DataOption): Promise<void> {
  const passphrase = doing.dryRun ? "" : await askNewPassphrase(name);
  const { withData, changePassphraseOf } = await people();
  await withData(data, "halo user", async ({ db }) => {
    if (!doing.dryRun) await changePassphraseOf(db, name, passphrase);
    tellDone(doing, { user: name }, `${name} has another passphrase, and is signed out everywhere`);
  });
}

async function list({ data, json }: DataOption): Promise<void> {
  const { readingData, usersListed } = await people();
  await readingData(data, "halo user", async ({ db }) => {
    const users = await usersListed(db);
    if (json) return console.log(JSON.stringify(users));
    for (const { name, created } of users) console.log(`${name}, since ${created.toISOString().slice(0, 10)}`);
    if (!users.length) console.log("nobody has to say who they are");
  });
}

async function remove(name: string, { data, ...doing }: DataOption): Promise<void> {
  const { withData, removeUserNamed } = await people();
  await withData(data, "halo user", async ({ db }) => {
    if (!doing.dryRun) await removeUserNamed(db, name);
    tellDone(doing, { user: name }, `${name} may not come in any more; tokens of theirs neither`);
  });
}

async function makeTokenFor(name: string, label: string | undefined, { data, ...doing }: DataOption): Promise<void> {
  const { withData, makeToken } = await people();
  await withData(data, "halo token", async ({ db }) => {
    if (doing.dryRun) return tellDone(doing, { user: name }, `a token is made for ${name}`);
    const { id, token } = await makeToken(db, name, label ?? "");
    // It is told this once; only its hash is kept.
    console.error(`token ${id} of ${name}; it is not told again`);
    if (doing.json) console.log(JSON.stringify({ id, user: name, token }));
    else console.log(token);
  });
}

async function listTokens({ data, json }: DataOption): Promise<void> {
  const { readingData, tokensListed } = await people();
  await readingData(data, "halo token", async ({ db }) => {
    const tokens = await tokensListed(db);
    if (json) return console.log(JSON.stringify(tokens));
    for (const { id, user, label, created } of tokens)
      console.log(`${id} of ${user}${label ? `, ${label}` : ""}, since ${created.toISOString().slice(0, 10)}`);
  });
}

async function endToken(id: string, { data, ...doing }: DataOption): Promise<void> {
  const { withData, removeTokenNamed } = await people();
  await withData(data, "halo token", async ({ db }) => {
    if (!doing.dryRun) await removeTokenNamed(db, id);
    tellDone(doing, { token: id }, `token ${id} is none any more`);
  });
}

export const userCommand = (): Command =>
  new Command("user")
    .description("Who may come in; with no user nobody is asked, and only this machine is listened to")
    .addCommand(
      changingCommand("add", "Adds a user; the passphrase is asked for, or is the first line of the standard input")
        .argument("<name>")
        .action(add),
    )
    .addCommand(
      changingCommand("passphrase", "Another passphrase for a user, who is signed out everywhere")
        .argument("<name>")
        .action(change),
    )
    .addCommand(dataCommand("list", "All users").action(list))
    .addCommand(changingCommand("remove", "Removes a user with their tokens").argument("<name>").action(remove));

export const tokenCommand = (): Command =>
  new Command("token")
    .description("What programs come in with, for a user: Authorization: Bearer TOKEN")
    .addCommand(
      changingCommand("make", "Makes a token and prints it, this once")
        .argument("<user>")
        .argument("[label]", "what it is for")
        .action(makeTokenFor),
    )
    .addCommand(dataCommand("list", "All tokens, without themselves").action(listTokens))
    .addCommand(changingCommand("remove", "Ends a token").argument("<id>").action(endToken));
