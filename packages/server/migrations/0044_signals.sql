CREATE TABLE "delivery_signals" (
	"delivery_id" integer PRIMARY KEY NOT NULL,
	"enrolment_id" integer NOT NULL,
	"opens" integer NOT NULL,
	"first_open_at" bigint,
	"last_open_at" bigint,
	"clicks" integer NOT NULL,
	"first_click_at" bigint,
	"last_click_at" bigint,
	"by_machine" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "signals" (
	"id" serial PRIMARY KEY NOT NULL,
	"delivery_id" integer NOT NULL,
	"kind" text NOT NULL,
	"at" bigint NOT NULL,
	"link" text NOT NULL,
	"links" integer NOT NULL,
	"told" text NOT NULL,
	"machine" text
);
--> statement-breakpoint
ALTER TABLE "enrolments" ADD COLUMN "opened_at" bigint;--> statement-breakpoint
ALTER TABLE "enrolments" ADD COLUMN "clicked_at" bigint;--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD COLUMN "condition" text DEFAULT 'no_reply' NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "watches_opens" text DEFAULT 'none' NOT NULL;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "watches_clicks" text DEFAULT 'none' NOT NULL;--> statement-breakpoint
ALTER TABLE "delivery_signals" ADD CONSTRAINT "delivery_signals_delivery_id_deliveries_id_fk" FOREIGN KEY ("delivery_id") REFERENCES "public"."deliveries"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "delivery_signals" ADD CONSTRAINT "delivery_signals_enrolment_id_enrolments_id_fk" FOREIGN KEY ("enrolment_id") REFERENCES "public"."enrolments"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "signals" ADD CONSTRAINT "signals_delivery_id_deliveries_id_fk" FOREIGN KEY ("delivery_id") REFERENCES "public"."deliveries"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "delivery_signals_enrolment_id_index" ON "delivery_signals" USING btree ("enrolment_id");--> statement-breakpoint
CREATE INDEX "signals_delivery_id_index" ON "signals" USING btree ("delivery_id");--> statement-breakpoint
CREATE INDEX "signals_unread" ON "signals" USING btree ("at") WHERE machine is null;--> statement-breakpoint
CREATE INDEX "enrolments_seen" ON "enrolments" USING btree ("campaign_id","sent") WHERE state = 'in_progress' and opened_at is not null;