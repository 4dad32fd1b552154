/** Who may come in, and what the program itself keeps. */
import { pgTable, text, timestamp } from "drizzle-orm/pg-core";
import { created } from "./columns";

/** Who may come in. Where there is anybody, everybody has to say who they are. */
export const users = pgTable("users", {
  name: text("name").primaryKey(),
  /** As scrypt made it, with its salt and cost. */
  passphrase: text("passphrase").notNull(),
  /** Sessions that were begun before have ended. */
  sessionsFrom: timestamp("sessions_from", { withTimezone: true }).notNull().defaultNow(),
  created,
});

/** What programs come in with, for a user each. */
export const tokens = pgTable("tokens", {
  id: text("id").primaryKey(),
  userName: text("user_name")
    .notNull()
    .references(() => users.name, { onDelete: "cascade" }),
  label: text("label").notNull(),
  /** SHA-256 of it; the token itself is not kept. */
  digest: text("digest").notNull().unique(),
  created,
});

/** What the program itself keeps, by name. */
export const settings = pgTable("settings", {
  name: text("name").primaryKey(),
  value: text("value").notNull(),
});
