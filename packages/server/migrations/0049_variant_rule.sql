ALTER TABLE "campaigns" ADD COLUMN "stops_losers" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "variant_looks" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "variants_stopped" jsonb DEFAULT '[]'::jsonb NOT NULL;