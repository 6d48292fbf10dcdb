ALTER TABLE "deliveries" ADD COLUMN "for_clicked" boolean;--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD COLUMN "if_clicked" jsonb;--> statement-breakpoint
ALTER TABLE "step_versions" ADD COLUMN "if_clicked" jsonb;