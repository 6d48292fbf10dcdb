ALTER TABLE "campaigns" ADD COLUMN "first_group" integer;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "group_wait" integer DEFAULT 1 NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "group_by_hand" boolean DEFAULT false NOT NULL;