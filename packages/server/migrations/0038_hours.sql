ALTER TABLE "campaigns" ADD COLUMN "start_minute" integer;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "end_date" text;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "end_minute" integer;--> statement-breakpoint
ALTER TABLE "enrolments" ADD COLUMN "send_minute" integer;