ALTER TABLE "campaigns" ADD COLUMN "sender_key" text;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "keeps_sender" boolean DEFAULT false NOT NULL;