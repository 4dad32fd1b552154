ALTER TABLE "renders" ADD COLUMN "stem" text;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "carried" jsonb;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "losses" jsonb DEFAULT '[]'::jsonb NOT NULL;