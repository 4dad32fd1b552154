ALTER TABLE "encodings" ADD COLUMN "table_text" text;--> statement-breakpoint
ALTER TABLE "encodings" ADD COLUMN "digest" text;--> statement-breakpoint
ALTER TABLE "tables" ADD COLUMN "digest" text;--> statement-breakpoint
UPDATE "encodings" SET "digest" = md5("body"::text), "table_text" = "body" ->> 'text', "body" = "body" - 'text';--> statement-breakpoint
UPDATE "tables" SET "digest" = md5("file" || ' ' || "text");--> statement-breakpoint
ALTER TABLE "encodings" ALTER COLUMN "digest" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "tables" ALTER COLUMN "digest" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "library" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "looks" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "stills" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "summary" jsonb;
