ALTER TABLE "mailbox_days" ADD COLUMN "quota" integer;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "rows_failed" boolean DEFAULT false NOT NULL;