DROP INDEX "list_rows_list_id_position_index";--> statement-breakpoint
ALTER TABLE "list_aside" ADD COLUMN "fields" jsonb;--> statement-breakpoint
CREATE INDEX "list_rows_in_order" ON "list_rows" USING btree ("list_id","position") WHERE removed_at is null;