export interface Postgres {
  url: string;
  stop(): Promise<void>;
  restart(): Promise<void>;
}
export const freePort: () => Promise<number>;
export const startPostgres: (folder: string) => Promise<Postgres>;
