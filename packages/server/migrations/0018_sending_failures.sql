ALTER TABLE "attempts" ADD COLUMN "looked_at" bigint;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "send_failed_since" bigint;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "send_failures" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "send_failure" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "send_retry_at" bigint;