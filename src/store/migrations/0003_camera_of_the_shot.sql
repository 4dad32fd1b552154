ALTER TABLE "shots" ADD COLUMN "depth" jsonb;--> statement-breakpoint
-- Distances from other footage were part of the look; they belong to the shot.
UPDATE "shots" SET "depth" = "looks"."body"->'depth' FROM "looks" WHERE "looks"."shot_id" = "shots"."id" AND jsonb_typeof("looks"."body"->'depth') = 'object';
