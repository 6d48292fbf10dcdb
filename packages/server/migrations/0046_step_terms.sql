ALTER TABLE "campaign_steps" ADD COLUMN "quotes" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD COLUMN "last_day" text;--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD COLUMN "hours" jsonb;--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD COLUMN "answers_last" boolean DEFAULT false NOT NULL;