import { asc, eq } from "drizzle-orm";
import type { Database } from "./database";
import { deliveries } from "./schema/schema";

export type DeliveryRow = typeof deliveries.$inferSelect;

export const listDeliveries = (db: Database): Promise<DeliveryRow[]> =>
  db.select().from(deliveries).orderBy(asc(deliveries.name));

/** Keeps a delivery, in place of the one that had its name. */
export async function keepDelivery(db: Database, name: string, body: unknown): Promise<DeliveryRow> {
  const [row] = await db
    .insert(deliveries)
    .values({ name, body })
    .onConflictDoUpdate({ target: deliveries.name, set: { body } })
    .returning();
  return row!;
}

export const removeDelivery = (db: Database, id: number) =>
  db.delete(deliveries).where(eq(deliveries.id, id)).returning({ id: deliveries.id });
