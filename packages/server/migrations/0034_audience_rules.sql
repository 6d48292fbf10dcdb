ALTER TABLE "campaigns" ADD COLUMN "allows_others" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "not_within_days" integer;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "most_per_company" integer;--> statement-breakpoint
UPDATE "campaigns" SET "allows_others" = true;
