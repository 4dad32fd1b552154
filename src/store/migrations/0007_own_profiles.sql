CREATE TABLE "profile_revisions" (
	"profile_id" text NOT NULL,
	"revision" integer NOT NULL,
	"body" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "profile_revisions_profile_id_revision_pk" PRIMARY KEY("profile_id","revision")
);
--> statement-breakpoint
ALTER TABLE "profiles" ADD COLUMN "shipped" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "profiles" ADD COLUMN "copied_from" text;--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "glass" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "profile_revisions" ADD CONSTRAINT "profile_revisions_profile_id_profiles_id_fk" FOREIGN KEY ("profile_id") REFERENCES "public"."profiles"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
UPDATE "profiles" SET "shipped" = true;--> statement-breakpoint
UPDATE "library" SET "summary" = NULL;--> statement-breakpoint
UPDATE "looks" SET "summary" = NULL;--> statement-breakpoint
UPDATE "renders" SET "summary" = NULL;--> statement-breakpoint
UPDATE "stills" SET "summary" = NULL;--> statement-breakpoint
UPDATE "versions" SET "summary" = NULL;
