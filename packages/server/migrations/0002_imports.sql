CREATE TABLE "import_memory" (
	"header" text PRIMARY KEY NOT NULL,
	"roles" jsonb NOT NULL,
	"cleanings" jsonb,
	"at" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "import_pieces" (
	"import_id" integer NOT NULL,
	"n" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "import_pieces_import_id_n_pk" PRIMARY KEY("import_id","n")
);
--> statement-breakpoint
ALTER TABLE "list_rows" DROP CONSTRAINT "list_rows_list_id_lists_id_fk";
--> statement-breakpoint
ALTER TABLE "list_rows" DROP CONSTRAINT "list_rows_contact_id_contacts_id_fk";
--> statement-breakpoint
DROP INDEX "list_rows_contact_id_index";--> statement-breakpoint
DROP INDEX "list_rows_once";--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "size" bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "remembered" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "into" jsonb;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "state" text DEFAULT 'open' NOT NULL;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "progress" jsonb;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "effect" jsonb;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "problem" text;--> statement-breakpoint
ALTER TABLE "imports" ADD COLUMN "cancelled" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "import_pieces" ADD CONSTRAINT "import_pieces_import_id_imports_id_fk" FOREIGN KEY ("import_id") REFERENCES "public"."imports"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "list_rows_once" ON "list_rows" USING btree ("contact_id","list_id") WHERE removed_at is null;