CREATE TABLE "assets" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"name_key" text NOT NULL,
	"type" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	"size" integer NOT NULL,
	"created_at" bigint NOT NULL,
	CONSTRAINT "assets_nameKey_unique" UNIQUE("name_key")
);
--> statement-breakpoint
CREATE TABLE "layouts" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"layout" jsonb NOT NULL,
	"created_at" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "message_versions" (
	"id" serial PRIMARY KEY NOT NULL,
	"message_id" integer NOT NULL,
	"content" jsonb NOT NULL,
	"saved_at" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "personal_lines" (
	"list_row_id" integer PRIMARY KEY NOT NULL,
	"state" text NOT NULL,
	"line" text NOT NULL,
	"at" bigint NOT NULL
);
--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD COLUMN "content" jsonb;--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD COLUMN "others" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "variants" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "needs_lines" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "recipients" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "enrolments" ADD COLUMN "variant" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "enrolments" ADD COLUMN "units" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "enrolments" ADD COLUMN "position" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "content" jsonb;--> statement-breakpoint
UPDATE "messages" SET "content" = jsonb_build_object('subject', coalesce(subject, ''), 'preview', '', 'body', coalesce(body, ''), 'format', 'letter', 'layout', null, 'plain', null, 'senderName', '', 'replyTo', '', 'cc', '', 'bcc', '', 'attachments', '[]'::jsonb);--> statement-breakpoint
ALTER TABLE "messages" ALTER COLUMN "content" SET NOT NULL;--> statement-breakpoint
UPDATE "campaign_steps" SET "content" = jsonb_build_object('subject', coalesce(subject, ''), 'preview', '', 'body', coalesce(body, ''), 'format', 'letter', 'layout', null, 'plain', null, 'senderName', '', 'replyTo', '', 'cc', '', 'bcc', '', 'attachments', '[]'::jsonb) WHERE "body" IS NOT NULL;--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "removed_at" bigint;--> statement-breakpoint
ALTER TABLE "message_versions" ADD CONSTRAINT "message_versions_message_id_messages_id_fk" FOREIGN KEY ("message_id") REFERENCES "public"."messages"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "personal_lines" ADD CONSTRAINT "personal_lines_list_row_id_list_rows_id_fk" FOREIGN KEY ("list_row_id") REFERENCES "public"."list_rows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "message_versions_message_id_saved_at_index" ON "message_versions" USING btree ("message_id","saved_at");