CREATE TABLE "encodings" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"body" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "tables" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"file" text NOT NULL,
	"text" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "footage" ADD COLUMN "channels" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "footage" ADD COLUMN "frames_per_second" real;--> statement-breakpoint
ALTER TABLE "footage" ADD COLUMN "time_code" text;--> statement-breakpoint
ALTER TABLE "footage" ADD COLUMN "part" text;--> statement-breakpoint
ALTER TABLE "footage" ADD COLUMN "layer" text;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "compression" text;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "encoding" text;--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "squeeze" real DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "desqueezed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "first_frame" integer;--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "last_frame" integer;--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "gaps" text DEFAULT 'hold' NOT NULL;--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "depth_channel" text;--> statement-breakpoint
ALTER TABLE "shots" ADD COLUMN "notes" text DEFAULT '' NOT NULL;