ALTER TABLE "campaigns" ADD COLUMN "leave_out_doubtful" boolean;--> statement-breakpoint
ALTER TABLE "list_columns" ADD COLUMN "verdicts" jsonb;