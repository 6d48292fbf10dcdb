CREATE TABLE "plan_variants" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"changes" jsonb NOT NULL,
	"created_at" bigint NOT NULL,
	CONSTRAINT "plan_variants_name_unique" UNIQUE("name")
);
--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "held_at" bigint;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "days_off" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "reply_to" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "rested_at" bigint;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "plan_fresh" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "nightly_plan_day" integer;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "domain_cap" integer;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "holidays" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "rest_bounds" jsonb DEFAULT '{"bounces":3,"among":30,"complaints":1,"tooMuch":true,"days":3}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "calendar_key" text;--> statement-breakpoint
CREATE INDEX "events_delivery_id_index" ON "events" USING btree ("delivery_id");