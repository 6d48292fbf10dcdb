ALTER TABLE "campaign_steps" DROP COLUMN "subject";--> statement-breakpoint
ALTER TABLE "campaign_steps" DROP COLUMN "body";--> statement-breakpoint
ALTER TABLE "messages" DROP COLUMN "subject";--> statement-breakpoint
ALTER TABLE "messages" DROP COLUMN "body";