CREATE TABLE "mail_domains" (
	"domain" text PRIMARY KEY NOT NULL,
	"takes_mail" boolean,
	"asked_at" bigint
);
--> statement-breakpoint
CREATE INDEX "mail_domains_wanted" ON "mail_domains" USING btree ("domain") WHERE takes_mail is null;