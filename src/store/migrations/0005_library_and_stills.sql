CREATE TABLE "library" (
	"id" text PRIMARY KEY NOT NULL,
	"body" jsonb NOT NULL,
	"revision" integer DEFAULT 1 NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "stills" (
	"id" serial PRIMARY KEY NOT NULL,
	"shot_id" text NOT NULL,
	"frame" integer NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"look" jsonb NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "stills" ADD CONSTRAINT "stills_shot_id_shots_id_fk" FOREIGN KEY ("shot_id") REFERENCES "public"."shots"("id") ON DELETE no action ON UPDATE no action;