ALTER TABLE "events" ADD COLUMN "undone_at" bigint;--> statement-breakpoint
ALTER TABLE "incoming" ADD COLUMN "details" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "incoming" ADD COLUMN "read_as" text;--> statement-breakpoint
ALTER TABLE "incoming" ADD COLUMN "match" text;--> statement-breakpoint
ALTER TABLE "incoming" ADD COLUMN "before" jsonb;--> statement-breakpoint
UPDATE "incoming" SET "kind" = 'reply' WHERE "kind" = 'other';--> statement-breakpoint
UPDATE "incoming" SET "match" = 'sure' WHERE "enrolment_id" IS NOT NULL;
