ALTER TABLE "campaigns" ADD COLUMN "picked" jsonb;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "proposed" jsonb DEFAULT '[]'::jsonb NOT NULL;