CREATE TABLE "attempts" (
	"id" serial PRIMARY KEY NOT NULL,
	"delivery_id" integer NOT NULL,
	"mailbox_id" integer NOT NULL,
	"message_id" text NOT NULL,
	"subject" text NOT NULL,
	"units" integer NOT NULL,
	"started_at" bigint NOT NULL,
	"verdict" text,
	"answer" text,
	CONSTRAINT "attempts_messageId_unique" UNIQUE("message_id")
);
--> statement-breakpoint
CREATE TABLE "campaign_mailboxes" (
	"campaign_id" integer NOT NULL,
	"mailbox_id" integer NOT NULL,
	CONSTRAINT "campaign_mailboxes_campaign_id_mailbox_id_pk" PRIMARY KEY("campaign_id","mailbox_id")
);
--> statement-breakpoint
CREATE TABLE "campaign_steps" (
	"campaign_id" integer NOT NULL,
	"position" integer NOT NULL,
	"message_id" integer,
	"delay" integer NOT NULL,
	"tolerance" integer NOT NULL,
	"subject" text,
	"body" text,
	CONSTRAINT "campaign_steps_campaign_id_position_pk" PRIMARY KEY("campaign_id","position")
);
--> statement-breakpoint
CREATE TABLE "campaigns" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"list_id" integer,
	"state" text NOT NULL,
	"start_date" text NOT NULL,
	"window" jsonb NOT NULL,
	"window_zone" text NOT NULL,
	"daily_limit" integer,
	"leave_out_blank" boolean DEFAULT false NOT NULL,
	"created_at" bigint NOT NULL,
	"started_at" bigint,
	"finished_at" bigint
);
--> statement-breakpoint
CREATE TABLE "clock" (
	"id" integer PRIMARY KEY DEFAULT 1 NOT NULL,
	"simulated" boolean NOT NULL,
	"now_ms" bigint NOT NULL,
	"anchor_real_ms" bigint NOT NULL,
	"rate" double precision NOT NULL,
	"until_ms" bigint,
	"to_next_event" boolean DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE TABLE "contacts" (
	"id" serial PRIMARY KEY NOT NULL,
	"address" text NOT NULL,
	"key" text NOT NULL,
	"domain" text NOT NULL,
	"created_at" bigint NOT NULL,
	CONSTRAINT "contacts_key_unique" UNIQUE("key")
);
--> statement-breakpoint
CREATE TABLE "deliveries" (
	"id" serial PRIMARY KEY NOT NULL,
	"enrolment_id" integer NOT NULL,
	"campaign_id" integer NOT NULL,
	"step" integer NOT NULL,
	"mailbox_id" integer NOT NULL,
	"day" integer NOT NULL,
	"instant" bigint,
	"units" integer DEFAULT 1 NOT NULL,
	"state" text NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	"tries" integer DEFAULT 0 NOT NULL,
	"sent_at" bigint,
	CONSTRAINT "deliveries_enrolmentId_step_unique" UNIQUE("enrolment_id","step")
);
--> statement-breakpoint
CREATE TABLE "enrolments" (
	"id" serial PRIMARY KEY NOT NULL,
	"campaign_id" integer NOT NULL,
	"contact_id" integer NOT NULL,
	"list_row_id" integer NOT NULL,
	"mailbox_id" integer,
	"state" text NOT NULL,
	"reason" text DEFAULT '' NOT NULL,
	"sent" integer DEFAULT 0 NOT NULL,
	"last_sent_day" integer,
	"not_before" integer,
	"changed_at" bigint NOT NULL,
	CONSTRAINT "enrolments_campaignId_contactId_unique" UNIQUE("campaign_id","contact_id")
);
--> statement-breakpoint
CREATE TABLE "events" (
	"id" serial PRIMARY KEY NOT NULL,
	"at" bigint NOT NULL,
	"kind" text NOT NULL,
	"contact_id" integer,
	"enrolment_id" integer,
	"delivery_id" integer,
	"detail" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "imports" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	"sheet" integer,
	"roles" jsonb,
	"cleanings" jsonb,
	"edits" jsonb,
	"created_at" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "incoming" (
	"id" serial PRIMARY KEY NOT NULL,
	"mailbox_id" integer NOT NULL,
	"uid_validity" text NOT NULL,
	"uid" integer NOT NULL,
	"raw" "bytea" NOT NULL,
	"received_at" bigint NOT NULL,
	"from_name" text NOT NULL,
	"from_key" text NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	"message_id" text NOT NULL,
	"kind" text NOT NULL,
	"because" text NOT NULL,
	"did" text NOT NULL,
	"delivery_id" integer,
	"enrolment_id" integer,
	"outcome" text
);
--> statement-breakpoint
CREATE TABLE "list_aside" (
	"id" serial PRIMARY KEY NOT NULL,
	"list_id" integer NOT NULL,
	"line" integer NOT NULL,
	"cells" jsonb NOT NULL,
	"reason" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "list_columns" (
	"list_id" integer NOT NULL,
	"position" integer NOT NULL,
	"name" text NOT NULL,
	"key" text NOT NULL,
	"role" text NOT NULL,
	CONSTRAINT "list_columns_list_id_position_pk" PRIMARY KEY("list_id","position"),
	CONSTRAINT "list_columns_listId_key_unique" UNIQUE("list_id","key")
);
--> statement-breakpoint
CREATE TABLE "list_rows" (
	"id" serial PRIMARY KEY NOT NULL,
	"list_id" integer NOT NULL,
	"contact_id" integer NOT NULL,
	"position" integer NOT NULL,
	"zone" text,
	"send_on" text,
	"fields" jsonb NOT NULL,
	CONSTRAINT "list_rows_listId_contactId_unique" UNIQUE("list_id","contact_id")
);
--> statement-breakpoint
CREATE TABLE "lists" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"source" text NOT NULL,
	"created_at" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "mailbox_days" (
	"mailbox_id" integer NOT NULL,
	"day" integer NOT NULL,
	"units" integer NOT NULL,
	"messages" integer NOT NULL,
	CONSTRAINT "mailbox_days_mailbox_id_day_pk" PRIMARY KEY("mailbox_id","day")
);
--> statement-breakpoint
CREATE TABLE "mailboxes" (
	"id" serial PRIMARY KEY NOT NULL,
	"address" text NOT NULL,
	"sender_name" text NOT NULL,
	"signature" text NOT NULL,
	"smtp" jsonb NOT NULL,
	"imap" jsonb NOT NULL,
	"username" text NOT NULL,
	"password_sealed" text NOT NULL,
	"zone" text NOT NULL,
	"windows" jsonb NOT NULL,
	"daily_quota" integer NOT NULL,
	"ramp" jsonb,
	"provider_limit24h" integer,
	"pace_seconds" integer NOT NULL,
	"keeps_sent" boolean NOT NULL,
	"held" boolean DEFAULT false NOT NULL,
	"rest_until" text,
	"rest_reason" text,
	"problem" text,
	"last_sent_at" bigint,
	"last_read_at" bigint,
	"uid_validity" text,
	"uid_next" integer,
	"created_at" bigint NOT NULL,
	CONSTRAINT "mailboxes_address_unique" UNIQUE("address")
);
--> statement-breakpoint
CREATE TABLE "messages" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"subject" text NOT NULL,
	"body" text NOT NULL,
	"created_at" bigint NOT NULL,
	"updated_at" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "suppressions" (
	"id" serial PRIMARY KEY NOT NULL,
	"kind" text NOT NULL,
	"key" text NOT NULL,
	"reason" text NOT NULL,
	"source" text NOT NULL,
	"created_at" bigint NOT NULL,
	CONSTRAINT "suppressions_key_unique" UNIQUE("key")
);
--> statement-breakpoint
CREATE TABLE "workspace" (
	"id" integer PRIMARY KEY DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"zone" text NOT NULL,
	"postal_address" text NOT NULL,
	"held_all" boolean DEFAULT false NOT NULL,
	"plan_wanted_at" bigint
);
--> statement-breakpoint
ALTER TABLE "attempts" ADD CONSTRAINT "attempts_delivery_id_deliveries_id_fk" FOREIGN KEY ("delivery_id") REFERENCES "public"."deliveries"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "campaign_mailboxes" ADD CONSTRAINT "campaign_mailboxes_campaign_id_campaigns_id_fk" FOREIGN KEY ("campaign_id") REFERENCES "public"."campaigns"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "campaign_mailboxes" ADD CONSTRAINT "campaign_mailboxes_mailbox_id_mailboxes_id_fk" FOREIGN KEY ("mailbox_id") REFERENCES "public"."mailboxes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD CONSTRAINT "campaign_steps_campaign_id_campaigns_id_fk" FOREIGN KEY ("campaign_id") REFERENCES "public"."campaigns"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "campaign_steps" ADD CONSTRAINT "campaign_steps_message_id_messages_id_fk" FOREIGN KEY ("message_id") REFERENCES "public"."messages"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "campaigns" ADD CONSTRAINT "campaigns_list_id_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deliveries" ADD CONSTRAINT "deliveries_enrolment_id_enrolments_id_fk" FOREIGN KEY ("enrolment_id") REFERENCES "public"."enrolments"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deliveries" ADD CONSTRAINT "deliveries_campaign_id_campaigns_id_fk" FOREIGN KEY ("campaign_id") REFERENCES "public"."campaigns"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "deliveries" ADD CONSTRAINT "deliveries_mailbox_id_mailboxes_id_fk" FOREIGN KEY ("mailbox_id") REFERENCES "public"."mailboxes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "enrolments" ADD CONSTRAINT "enrolments_campaign_id_campaigns_id_fk" FOREIGN KEY ("campaign_id") REFERENCES "public"."campaigns"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "enrolments" ADD CONSTRAINT "enrolments_contact_id_contacts_id_fk" FOREIGN KEY ("contact_id") REFERENCES "public"."contacts"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "enrolments" ADD CONSTRAINT "enrolments_list_row_id_list_rows_id_fk" FOREIGN KEY ("list_row_id") REFERENCES "public"."list_rows"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "enrolments" ADD CONSTRAINT "enrolments_mailbox_id_mailboxes_id_fk" FOREIGN KEY ("mailbox_id") REFERENCES "public"."mailboxes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "events" ADD CONSTRAINT "events_contact_id_contacts_id_fk" FOREIGN KEY ("contact_id") REFERENCES "public"."contacts"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "incoming" ADD CONSTRAINT "incoming_mailbox_id_mailboxes_id_fk" FOREIGN KEY ("mailbox_id") REFERENCES "public"."mailboxes"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "incoming" ADD CONSTRAINT "incoming_delivery_id_deliveries_id_fk" FOREIGN KEY ("delivery_id") REFERENCES "public"."deliveries"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "incoming" ADD CONSTRAINT "incoming_enrolment_id_enrolments_id_fk" FOREIGN KEY ("enrolment_id") REFERENCES "public"."enrolments"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "list_aside" ADD CONSTRAINT "list_aside_list_id_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."lists"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "list_columns" ADD CONSTRAINT "list_columns_list_id_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."lists"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "list_rows" ADD CONSTRAINT "list_rows_list_id_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."lists"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "list_rows" ADD CONSTRAINT "list_rows_contact_id_contacts_id_fk" FOREIGN KEY ("contact_id") REFERENCES "public"."contacts"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mailbox_days" ADD CONSTRAINT "mailbox_days_mailbox_id_mailboxes_id_fk" FOREIGN KEY ("mailbox_id") REFERENCES "public"."mailboxes"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "attempts_delivery_id_index" ON "attempts" USING btree ("delivery_id");--> statement-breakpoint
CREATE INDEX "attempts_mailbox_id_started_at_index" ON "attempts" USING btree ("mailbox_id","started_at");--> statement-breakpoint
CREATE INDEX "contacts_domain_index" ON "contacts" USING btree ("domain");--> statement-breakpoint
CREATE INDEX "deliveries_due" ON "deliveries" USING btree ("mailbox_id","instant") WHERE state in ('planned', 'deferred');--> statement-breakpoint
CREATE INDEX "deliveries_sent" ON "deliveries" USING btree ("mailbox_id","sent_at");--> statement-breakpoint
CREATE INDEX "deliveries_unsettled" ON "deliveries" USING btree ("state","mailbox_id") WHERE state in ('sending', 'unconfirmed');--> statement-breakpoint
CREATE INDEX "deliveries_campaign_id_state_day_index" ON "deliveries" USING btree ("campaign_id","state","day");--> statement-breakpoint
CREATE INDEX "enrolments_contact_id_index" ON "enrolments" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "enrolments_campaign_id_state_index" ON "enrolments" USING btree ("campaign_id","state");--> statement-breakpoint
CREATE INDEX "events_at_index" ON "events" USING btree ("at");--> statement-breakpoint
CREATE INDEX "events_contact_id_index" ON "events" USING btree ("contact_id");--> statement-breakpoint
CREATE UNIQUE INDEX "incoming_mailbox_id_uid_validity_uid_index" ON "incoming" USING btree ("mailbox_id","uid_validity","uid");--> statement-breakpoint
CREATE INDEX "incoming_received_at_index" ON "incoming" USING btree ("received_at");--> statement-breakpoint
CREATE INDEX "incoming_enrolment_id_index" ON "incoming" USING btree ("enrolment_id");--> statement-breakpoint
CREATE INDEX "list_aside_list_id_line_index" ON "list_aside" USING btree ("list_id","line");--> statement-breakpoint
CREATE INDEX "list_rows_list_id_position_index" ON "list_rows" USING btree ("list_id","position");--> statement-breakpoint
CREATE INDEX "list_rows_contact_id_index" ON "list_rows" USING btree ("contact_id");