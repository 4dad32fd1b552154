ALTER TABLE "renders" DROP CONSTRAINT "renders_shot_id_shots_id_fk";
--> statement-breakpoint
ALTER TABLE "looks" ADD COLUMN "revision" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "profiles" ADD COLUMN "revision" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "frame_rate" real DEFAULT 24 NOT NULL;--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "revision" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "revision" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
-- Frames were listed one by one; they are kept as runs: [[first, last], …].
UPDATE "footage" SET "frames" = (
  SELECT coalesce(jsonb_agg(jsonb_build_array(low, high) ORDER BY low), '[]'::jsonb) FROM (
    SELECT min(number) AS low, max(number) AS high FROM (
      SELECT value::int AS number, value::int - row_number() OVER (ORDER BY value::int) AS run
      FROM jsonb_array_elements_text("frames")) AS numbered
    GROUP BY run) AS runs);
--> statement-breakpoint
UPDATE "renders" SET "frames" = (
  SELECT coalesce(jsonb_agg(jsonb_build_array(low, high) ORDER BY low), '[]'::jsonb) FROM (
    SELECT min(number) AS low, max(number) AS high FROM (
      SELECT value::int AS number, value::int - row_number() OVER (ORDER BY value::int) AS run
      FROM jsonb_array_elements_text("frames")) AS numbered
    GROUP BY run) AS runs);
--> statement-breakpoint
UPDATE "renders" SET "frame_rate" = "shots"."frame_rate" FROM "shots" WHERE "shots"."id" = "renders"."shot_id";
