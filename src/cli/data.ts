import { type OpenData, openData } from "../server/app/open";

/** Works on a data folder that no server has open. `folder`: in place of HALO_DATA. Throws UsageError where it cannot be opened. */
export async function withData(
  folder: string | undefined,
  program: string,
  work: (data: OpenData) => Promise<void>,
): Promise<void> {
  if (folder !== undefined) process.env.HALO_DATA = folder;
  const data = await openData(program).catch((error: unknown) => {
    const { line } = error as { line?: string };
    throw line === undefined ? error : new Error(line);
  });
  try {
    await work(data);
  } finally {
    await data.close();
  }
}
