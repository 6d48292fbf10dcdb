CREATE TABLE "domain_records" (
	"domain" text PRIMARY KEY NOT NULL,
	"findings" jsonb NOT NULL,
	"looked_at" bigint NOT NULL,
	"again_at" bigint NOT NULL
);
--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "proofs_read_at" bigint;--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "changed_since_read" boolean DEFAULT false NOT NULL;