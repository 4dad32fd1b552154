import { type OpenData, openData } from "../server/app/open";
import { Refusal } from "../server/errors/errors";
import { UsageError } from "./options";

/**
 * Works on a data folder that no server has open. `folder`: in place of HALO_DATA. Throws UsageError where it cannot be
 * opened.
 */
export async function withData(
  folder: string | undefined,
  program: string,
  work: (data: OpenData) => Promise<void>,
): Promise<void> {
  if (folder !== undefined) process.env.HALO_DATA = folder;
  const data = await openData(program, { makes: false }).catch((error: unknown) => {
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
