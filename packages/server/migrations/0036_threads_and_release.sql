ALTER TABLE "campaign_steps" ADD COLUMN "starts_thread" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "released_by_hand" boolean DEFAULT false NOT NULL;