ALTER TABLE "workspace" ADD COLUMN "rows_folder" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "rows_day" integer;--> statement-breakpoint
ALTER TABLE "workspace" ADD COLUMN "rows_found" text DEFAULT '' NOT NULL;