CREATE TABLE "list_feeds" (
	"list_id" integer PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"place" text NOT NULL,
	"how" text NOT NULL,
	"every_minutes" integer NOT NULL,
	"allow_private" boolean NOT NULL,
	"taken" jsonb DEFAULT '[]'::jsonb NOT NULL,
	"looked_at" bigint,
	"found" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "enrol_new" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "enrolled_revision" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "list_feeds" ADD CONSTRAINT "list_feeds_list_id_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."lists"("id") ON DELETE cascade ON UPDATE no action;