CREATE TABLE "letters" (
	"id" serial PRIMARY KEY NOT NULL,
	"mailbox_id" integer NOT NULL,
	"contact_id" integer,
	"incoming_id" integer,
	"state" text NOT NULL,
	"to_key" text NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	"quotes" boolean DEFAULT true NOT NULL,
	"message_id" text DEFAULT '' NOT NULL,
	"raw" "bytea",
	"parts" jsonb,
	"written_at" bigint NOT NULL,
	"leaves_at" bigint,
	"started_at" bigint,
	"looked_at" bigint,
	"tries" integer DEFAULT 0 NOT NULL,
	"sent_at" bigint,
	"reason" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
CREATE TABLE "notes" (
	"id" serial PRIMARY KEY NOT NULL,
	"contact_id" integer NOT NULL,
	"at" bigint NOT NULL,
	"text" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "snippets" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"text" text NOT NULL,
	CONSTRAINT "snippets_name_unique" UNIQUE("name")
);
--> statement-breakpoint
DROP INDEX "incoming_received_at_index";--> statement-breakpoint
ALTER TABLE "incoming" ADD COLUMN "parts" jsonb;--> statement-breakpoint
ALTER TABLE "incoming" ADD COLUMN "assigned_to" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "incoming" ADD COLUMN "remind_on" text;--> statement-breakpoint
ALTER TABLE "letters" ADD CONSTRAINT "letters_mailbox_id_mailboxes_id_fk" FOREIGN KEY ("mailbox_id") REFERENCES "public"."mailboxes"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "letters" ADD CONSTRAINT "letters_contact_id_contacts_id_fk" FOREIGN KEY ("contact_id") REFERENCES "public"."contacts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "letters" ADD CONSTRAINT "letters_incoming_id_incoming_id_fk" FOREIGN KEY ("incoming_id") REFERENCES "public"."incoming"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "notes" ADD CONSTRAINT "notes_contact_id_contacts_id_fk" FOREIGN KEY ("contact_id") REFERENCES "public"."contacts"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "letters_contact_id_index" ON "letters" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "letters_to_key_index" ON "letters" USING btree ("to_key");--> statement-breakpoint
CREATE INDEX "letters_message_id_index" ON "letters" USING btree ("message_id");--> statement-breakpoint
CREATE UNIQUE INDEX "letters_one_draft" ON "letters" USING btree ("incoming_id") WHERE state = 'draft';--> statement-breakpoint
CREATE INDEX "letters_to_send" ON "letters" USING btree ("mailbox_id") WHERE state in ('waiting', 'sending');--> statement-breakpoint
CREATE INDEX "notes_contact_id_index" ON "notes" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "incoming_received_at_id_index" ON "incoming" USING btree ("received_at","id");--> statement-breakpoint
CREATE INDEX "incoming_from_nobody" ON "incoming" USING btree ("from_key") WHERE enrolment_id is null;--> statement-breakpoint
CREATE INDEX "incoming_reminders" ON "incoming" USING btree ("remind_on") WHERE remind_on is not null;