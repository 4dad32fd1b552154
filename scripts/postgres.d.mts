export interface Postgres {
  url: string;
  stop(): Promise<void>;
  restart(): Promise<void>;
}
export const startPostgres: (folder: string) => Promise<Postgres>;
