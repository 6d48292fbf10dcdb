ALTER TABLE "import_memory" ADD COLUMN "kinds" jsonb;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "kinds" jsonb;