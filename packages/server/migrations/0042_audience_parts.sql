ALTER TABLE "campaigns" ADD COLUMN "also_parts" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "except_parts" jsonb DEFAULT '[]'::jsonb NOT NULL;