/** What is wrong with a file, in one line that starts with its name. */
export class FileError extends Error {
  constructor(
    readonly file: string,
    readonly reason: string,
  ) {
    super(`${file}: ${reason}`);
    this.name = "FileError";
  }
}
