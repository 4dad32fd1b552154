import { type OpenData, openData, openToRead } from "../server/app/open";
import { Refusal } from "../server/errors/errors";
import { UsageError } from "./options";

type Work = (data: OpenData) => Promise<void>;

/**
 * Works on a data folder that no server has open. `folder`: in place of HALO_DATA. Throws UsageError where it cannot be
 * opened.
 */
export const withData = (folder: string | undefined, program: string, work: Work): Promise<void> =>
  within(folder, () => openData(program, { makes: false }), work);

/** The same for a program that goes on for long: a database server that is started anew is waited for. */
export const stayingWithData = (folder: string | undefined, program: string, work: Work): Promise<void> =>
  within(folder, () => openData(program, { makes: false, waits: true }), work);

/** Reads from a data folder, whether a server has it open or not. What `work` writes to the database may be lost. */
export const readingData = (folder: string | undefined, program: string, work: Work): Promise<void> =>
  within(folder, () => openToRead(program), work);

async function within(folder: string | undefined, open: () => Promise<OpenData>, work: Work): Promise<void> {
  if (folder !== undefined) process.env.HALO_DATA = folder;
  const data = await open().catch((error: unknown) => {
    const { line } = error as { line?: string };
    throw line === undefined ? error : new UsageError(line);
  });
  try {
    await work(data);
  } catch (error) {
    // What is asked for and is not there, or cannot be done as things are.
    throw error instanceof Refusal ? new UsageError(error.message) : error;
  } finally {
    await data.close();
  }
}
