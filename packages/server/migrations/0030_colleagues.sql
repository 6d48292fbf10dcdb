ALTER TABLE "campaigns" ADD COLUMN "reply_ends_here" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "holds_colleagues" boolean DEFAULT false NOT NULL;