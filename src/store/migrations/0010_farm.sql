CREATE TABLE "portions" (
	"id" serial PRIMARY KEY NOT NULL,
	"render_id" integer NOT NULL,
	"kind" text NOT NULL,
	"frames" jsonb NOT NULL,
	"state" text DEFAULT 'open' NOT NULL,
	"worker_id" text,
	"leased_until" timestamp with time zone,
	"attempts" integer DEFAULT 0 NOT NULL,
	"made" integer DEFAULT 0 NOT NULL,
	"read" jsonb
);
--> statement-breakpoint
CREATE TABLE "rendered_frames" (
	"render_id" integer NOT NULL,
	"frame" integer NOT NULL,
	"file" text,
	"recipe" text,
	"bytes" integer,
	"sha256" text,
	"reason" text,
	CONSTRAINT "rendered_frames_render_id_frame_pk" PRIMARY KEY("render_id","frame")
);
--> statement-breakpoint
CREATE TABLE "workers" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"host" text NOT NULL,
	"pid" integer NOT NULL,
	"program" text NOT NULL,
	"engine" integer NOT NULL,
	"draining" boolean DEFAULT false NOT NULL,
	"render_id" integer,
	"frames" integer DEFAULT 0 NOT NULL,
	"frames_per_second" real,
	"started_at" timestamp with time zone DEFAULT now() NOT NULL,
	"heard_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "paused" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "priority" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "engine" integer;--> statement-breakpoint
ALTER TABLE "portions" ADD CONSTRAINT "portions_render_id_renders_id_fk" FOREIGN KEY ("render_id") REFERENCES "public"."renders"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rendered_frames" ADD CONSTRAINT "rendered_frames_render_id_renders_id_fk" FOREIGN KEY ("render_id") REFERENCES "public"."renders"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "portions_render" ON "portions" USING btree ("render_id");--> statement-breakpoint
CREATE INDEX "portions_to_do" ON "portions" USING btree ("render_id","id") WHERE state <> 'done';--> statement-breakpoint
CREATE INDEX "portions_held" ON "portions" USING btree ("worker_id") WHERE state = 'leased';