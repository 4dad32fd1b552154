CREATE TABLE "deliveries" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"body" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "deliveries_name_unique" UNIQUE("name")
);
