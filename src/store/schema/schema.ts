/** Every table of the database. */
export * from "./footage";
export * from "./glass";
export * from "./looks";
export * from "./people";
export * from "./renders";
