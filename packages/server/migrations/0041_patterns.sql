CREATE TABLE "campaign_patterns" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"steps" jsonb NOT NULL,
	"choices" jsonb NOT NULL,
	"removed_at" bigint,
	CONSTRAINT "campaign_patterns_name_unique" UNIQUE("name")
);
