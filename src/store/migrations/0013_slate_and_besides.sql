ALTER TABLE "renders" ADD COLUMN "besides" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "slate" text;