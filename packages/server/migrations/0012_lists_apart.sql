ALTER TABLE "enrolments" DROP CONSTRAINT "enrolments_list_row_id_list_rows_id_fk";
--> statement-breakpoint
ALTER TABLE "personal_lines" DROP CONSTRAINT "personal_lines_list_row_id_list_rows_id_fk";
--> statement-breakpoint
ALTER TABLE "list_change_rows" DROP CONSTRAINT "list_change_rows_row_id_list_rows_id_fk";
--> statement-breakpoint
ALTER TABLE "list_rows" RENAME TO "list_rows_others";
--> statement-breakpoint
ALTER TABLE "list_rows_others" DROP CONSTRAINT "list_rows_pkey";
--> statement-breakpoint
ALTER TABLE "list_rows_others" ADD CONSTRAINT "list_rows_others_pkey" PRIMARY KEY("id","list_id");
--> statement-breakpoint
ALTER INDEX "list_rows_once" RENAME TO "list_rows_others_once";
--> statement-breakpoint
ALTER INDEX "list_rows_in_order" RENAME TO "list_rows_others_in_order";
--> statement-breakpoint
ALTER INDEX "list_rows_removed" RENAME TO "list_rows_others_removed";
--> statement-breakpoint
CREATE TABLE "list_rows" (LIKE "list_rows_others" INCLUDING DEFAULTS) PARTITION BY LIST ("list_id");
--> statement-breakpoint
ALTER SEQUENCE "list_rows_id_seq" OWNED BY "list_rows"."id";
--> statement-breakpoint
ALTER TABLE "list_rows" ADD CONSTRAINT "list_rows_id_list_id_pk" PRIMARY KEY("id","list_id");
--> statement-breakpoint
CREATE UNIQUE INDEX "list_rows_once" ON "list_rows" USING btree ("contact_id","list_id") WHERE removed_at is null;
--> statement-breakpoint
CREATE INDEX "list_rows_in_order" ON "list_rows" USING btree ("list_id","position") WHERE removed_at is null;
--> statement-breakpoint
CREATE INDEX "list_rows_removed" ON "list_rows" USING btree ("removed_at") WHERE removed_at is not null;
--> statement-breakpoint
ALTER TABLE "list_rows" ATTACH PARTITION "list_rows_others" DEFAULT;
--> statement-breakpoint
ALTER TABLE "contacts" ALTER COLUMN "key" SET DATA TYPE text COLLATE "C", ALTER COLUMN "domain" SET DATA TYPE text COLLATE "C";
--> statement-breakpoint
ALTER TABLE "import_pieces" ALTER COLUMN "bytes" SET STORAGE EXTERNAL;
