CREATE TABLE "list_change_rows" (
	"change_id" integer NOT NULL,
	"row_id" integer NOT NULL,
	"before" jsonb NOT NULL,
	"after" jsonb NOT NULL,
	CONSTRAINT "list_change_rows_change_id_row_id_pk" PRIMARY KEY("change_id","row_id")
);
--> statement-breakpoint
CREATE TABLE "list_changes" (
	"id" serial PRIMARY KEY NOT NULL,
	"list_id" integer NOT NULL,
	"at" bigint NOT NULL,
	"label" text NOT NULL,
	"undone" boolean DEFAULT false NOT NULL,
	"columns_before" jsonb,
	"columns_after" jsonb,
	"renamed" jsonb
);
--> statement-breakpoint
CREATE TABLE "segments" (
	"id" serial PRIMARY KEY NOT NULL,
	"list_id" integer NOT NULL,
	"name" text NOT NULL,
	"query" jsonb NOT NULL,
	"created_at" bigint NOT NULL
);
--> statement-breakpoint
ALTER TABLE "list_rows" DROP CONSTRAINT "list_rows_listId_contactId_unique";--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "segment_id" integer;--> statement-breakpoint
ALTER TABLE "list_columns" ADD COLUMN "kind" text DEFAULT 'text' NOT NULL;--> statement-breakpoint
ALTER TABLE "list_columns" ADD COLUMN "hidden" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "list_columns" ADD COLUMN "formula" text;--> statement-breakpoint
ALTER TABLE "list_rows" ADD COLUMN "notes" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "list_rows" ADD COLUMN "removed_at" bigint;--> statement-breakpoint
ALTER TABLE "lists" ADD COLUMN "removed_at" bigint;--> statement-breakpoint
ALTER TABLE "lists" ADD COLUMN "revision" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "list_change_rows" ADD CONSTRAINT "list_change_rows_change_id_list_changes_id_fk" FOREIGN KEY ("change_id") REFERENCES "public"."list_changes"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "list_change_rows" ADD CONSTRAINT "list_change_rows_row_id_list_rows_id_fk" FOREIGN KEY ("row_id") REFERENCES "public"."list_rows"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "list_changes" ADD CONSTRAINT "list_changes_list_id_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."lists"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "segments" ADD CONSTRAINT "segments_list_id_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."lists"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "list_change_rows_row_id_index" ON "list_change_rows" USING btree ("row_id");--> statement-breakpoint
CREATE INDEX "list_changes_list_id_id_index" ON "list_changes" USING btree ("list_id","id");--> statement-breakpoint
CREATE INDEX "segments_list_id_index" ON "segments" USING btree ("list_id");--> statement-breakpoint
ALTER TABLE "campaigns" ADD CONSTRAINT "campaigns_segment_id_segments_id_fk" FOREIGN KEY ("segment_id") REFERENCES "public"."segments"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "list_rows_once" ON "list_rows" USING btree ("list_id","contact_id") WHERE removed_at is null;--> statement-breakpoint
CREATE INDEX "list_rows_removed" ON "list_rows" USING btree ("removed_at") WHERE removed_at is not null;--> statement-breakpoint
CREATE FUNCTION "cell_number"("cell" text) RETURNS double precision LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
	SELECT CASE
		WHEN btrim("cell") ~ '^[+-]?([0-9]{1,3}([ \u00A0\u202F''’][0-9]{3})+|[0-9]{1,250})([.,][0-9]{1,250})?$'
		THEN replace(regexp_replace(btrim("cell"), '[ \u00A0\u202F''’]', '', 'g'), ',', '.')::double precision
	END
$$;
--> statement-breakpoint
CREATE AGGREGATE "jsonb_merge" (jsonb) (SFUNC = jsonb_concat, STYPE = jsonb, INITCOND = '{}');
