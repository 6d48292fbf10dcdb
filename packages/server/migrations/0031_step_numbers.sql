CREATE TABLE "step_versions" (
	"id" serial PRIMARY KEY NOT NULL,
	"campaign_id" integer NOT NULL,
	"position" integer NOT NULL,
	"content" jsonb,
	"others" jsonb NOT NULL,
	"until" bigint NOT NULL
);
--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD COLUMN "place" integer;--> statement-breakpoint
UPDATE "campaign_steps" SET "place" = "position";--> statement-breakpoint
ALTER TABLE "campaign_steps" ALTER COLUMN "place" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD COLUMN "is_out" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "deliveries" ADD COLUMN "version_id" integer;--> statement-breakpoint
ALTER TABLE "step_versions" ADD CONSTRAINT "step_versions_campaign_id_campaigns_id_fk" FOREIGN KEY ("campaign_id") REFERENCES "public"."campaigns"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "step_versions_campaign_id_index" ON "step_versions" USING btree ("campaign_id");--> statement-breakpoint
ALTER TABLE "deliveries" ADD CONSTRAINT "deliveries_version_id_step_versions_id_fk" FOREIGN KEY ("version_id") REFERENCES "public"."step_versions"("id") ON DELETE no action ON UPDATE no action;