CREATE TABLE "other_sends" (
	"mailbox_id" integer NOT NULL,
	"message_id" text NOT NULL,
	"at" bigint NOT NULL,
	"units" integer NOT NULL,
	"by_hand" boolean NOT NULL,
	CONSTRAINT "other_sends_mailbox_id_message_id_pk" PRIMARY KEY("mailbox_id","message_id")
);
--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "archive_folder" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "archive_problem" text;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "rest_moved" jsonb;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "sent_uid_validity" text;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "sent_uid_next" integer;--> statement-breakpoint
ALTER TABLE "other_sends" ADD CONSTRAINT "other_sends_mailbox_id_mailboxes_id_fk" FOREIGN KEY ("mailbox_id") REFERENCES "public"."mailboxes"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "other_sends_mailbox_id_at_index" ON "other_sends" USING btree ("mailbox_id","at");