import type { Depth } from "../core/image/image";

/** GET /api/formats: what is read and written here. */
export interface FormatsHere {
  /** The server reads and writes movies. */
  movies: boolean;
  formats: ListedFormat[];
  /** Names of roots that renders may be written to, beside the data folder. */
  renderRoots: string[];
}

export interface ListedFormat {
  name: string;
  extensions: string[];
  read: Depth[];
  write: Depth[];
  compressions: string[];
  note: string;
}
