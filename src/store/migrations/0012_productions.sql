ALTER TABLE "productions" ADD COLUMN "archived" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "production_id" text;--> statement-breakpoint
UPDATE "renders" SET "production_id" = (SELECT "shots"."production_id" FROM "shots" WHERE "shots"."id" = "renders"."shot_id");
