CREATE TABLE "settings" (
	"name" text PRIMARY KEY NOT NULL,
	"value" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "tokens" (
	"id" text PRIMARY KEY NOT NULL,
	"user_name" text NOT NULL,
	"label" text NOT NULL,
	"digest" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "tokens_digest_unique" UNIQUE("digest")
);
--> statement-breakpoint
CREATE TABLE "users" (
	"name" text PRIMARY KEY NOT NULL,
	"passphrase" text NOT NULL,
	"sessions_from" timestamp with time zone DEFAULT now() NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "library" ADD COLUMN "made_by" text;--> statement-breakpoint
ALTER TABLE "renders" ADD COLUMN "made_by" text;--> statement-breakpoint
ALTER TABLE "stills" ADD COLUMN "made_by" text;--> statement-breakpoint
ALTER TABLE "versions" ADD COLUMN "made_by" text;--> statement-breakpoint
ALTER TABLE "tokens" ADD CONSTRAINT "tokens_user_name_users_name_fk" FOREIGN KEY ("user_name") REFERENCES "public"."users"("name") ON DELETE cascade ON UPDATE no action;