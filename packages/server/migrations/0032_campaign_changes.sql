CREATE TABLE "campaign_changes" (
	"id" serial PRIMARY KEY NOT NULL,
	"campaign_id" integer NOT NULL,
	"at" bigint NOT NULL,
	"words" jsonb NOT NULL,
	"before" jsonb NOT NULL,
	"undone_at" bigint
);
--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "revision" integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE "campaign_changes" ADD CONSTRAINT "campaign_changes_campaign_id_campaigns_id_fk" FOREIGN KEY ("campaign_id") REFERENCES "public"."campaigns"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "campaign_changes_campaign_id_index" ON "campaign_changes" USING btree ("campaign_id");