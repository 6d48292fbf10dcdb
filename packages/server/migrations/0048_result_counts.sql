CREATE TABLE "person_results" (
	"enrolment_id" integer PRIMARY KEY NOT NULL,
	"campaign_id" integer NOT NULL,
	"contact_id" integer NOT NULL,
	"list_row_id" integer NOT NULL,
	"variant" integer NOT NULL,
	"state" text NOT NULL,
	"opened_at" bigint,
	"clicked_at" bigint,
	"first_at" bigint NOT NULL,
	"mailbox_id" integer NOT NULL,
	"steps" integer[] NOT NULL,
	"sent_at" bigint[] NOT NULL,
	"replied_at" bigint,
	"reply_step" integer,
	"outcome" text,
	"complained" boolean NOT NULL,
	"by_programs" boolean NOT NULL
);
--> statement-breakpoint
CREATE TABLE "result_changes" (
	"id" serial PRIMARY KEY NOT NULL,
	"enrolment_id" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "result_counts" (
	"campaign_id" integer NOT NULL,
	"told_by" text NOT NULL,
	"key" integer NOT NULL,
	"written" integer NOT NULL,
	"bounced" integer NOT NULL,
	"unsubscribed" integer NOT NULL,
	"complained" integer NOT NULL,
	"opened" integer NOT NULL,
	"clicked" integer NOT NULL,
	"by_programs" integer NOT NULL,
	"replied" integer NOT NULL,
	"interested" integer NOT NULL,
	"meetings" integer NOT NULL,
	"silent" integer NOT NULL,
	"to_come" integer NOT NULL,
	"may_reply" integer NOT NULL,
	"will_not" integer NOT NULL,
	CONSTRAINT "result_counts_campaign_id_told_by_key_pk" PRIMARY KEY("campaign_id","told_by","key")
);
--> statement-breakpoint
CREATE TABLE "step_counts" (
	"campaign_id" integer NOT NULL,
	"step" integer NOT NULL,
	"quarter" integer NOT NULL,
	"sent" integer NOT NULL,
	CONSTRAINT "step_counts_campaign_id_step_quarter_pk" PRIMARY KEY("campaign_id","step","quarter")
);
--> statement-breakpoint
CREATE INDEX "person_results_campaign_id_index" ON "person_results" USING btree ("campaign_id");--> statement-breakpoint
CREATE INDEX "person_results_contact_id_index" ON "person_results" USING btree ("contact_id");--> statement-breakpoint
CREATE INDEX "person_results_replied" ON "person_results" USING btree ("campaign_id","replied_at") WHERE replied_at is not null;--> statement-breakpoint
-- Whatever results are counted from notes whom a change concerns; packages/server/src/store/results/result-counting.ts counts them.
CREATE FUNCTION note_result_of_recipient() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO result_changes (enrolment_id) VALUES (NEW.id);
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION note_result_before() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO result_changes (enrolment_id) SELECT OLD.enrolment_id WHERE OLD.enrolment_id IS NOT NULL;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION note_result_after() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  INSERT INTO result_changes (enrolment_id) SELECT NEW.enrolment_id WHERE NEW.enrolment_id IS NOT NULL;
  RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER result_of_changed AFTER UPDATE ON enrolments FOR EACH ROW
  WHEN ((OLD.campaign_id, OLD.contact_id, OLD.list_row_id, OLD.variant, OLD.state, OLD.opened_at, OLD.clicked_at)
    IS DISTINCT FROM (NEW.campaign_id, NEW.contact_id, NEW.list_row_id, NEW.variant, NEW.state, NEW.opened_at, NEW.clicked_at))
  EXECUTE FUNCTION note_result_of_recipient();--> statement-breakpoint
-- Whoever is gone has lost their deliveries with it.
CREATE TRIGGER result_of_sent AFTER INSERT ON deliveries FOR EACH ROW
  WHEN (NEW.sent_at IS NOT NULL) EXECUTE FUNCTION note_result_after();--> statement-breakpoint
CREATE TRIGGER result_of_changed AFTER UPDATE ON deliveries FOR EACH ROW
  WHEN ((NEW.sent_at IS NOT NULL OR OLD.sent_at IS NOT NULL) AND (OLD.enrolment_id, OLD.step, OLD.mailbox_id, OLD.sent_at)
    IS DISTINCT FROM (NEW.enrolment_id, NEW.step, NEW.mailbox_id, NEW.sent_at))
  EXECUTE FUNCTION note_result_after();--> statement-breakpoint
CREATE TRIGGER result_of_gone AFTER DELETE ON deliveries FOR EACH ROW
  WHEN (OLD.sent_at IS NOT NULL) EXECUTE FUNCTION note_result_before();--> statement-breakpoint
CREATE TRIGGER result_of_come AFTER INSERT ON incoming FOR EACH ROW
  WHEN (NEW.enrolment_id IS NOT NULL) EXECUTE FUNCTION note_result_after();--> statement-breakpoint
CREATE TRIGGER result_of_changed_from AFTER UPDATE ON incoming FOR EACH ROW
  WHEN (OLD.enrolment_id IS DISTINCT FROM NEW.enrolment_id) EXECUTE FUNCTION note_result_before();--> statement-breakpoint
CREATE TRIGGER result_of_changed AFTER UPDATE ON incoming FOR EACH ROW
  WHEN ((OLD.enrolment_id, OLD.delivery_id, OLD.kind, OLD.received_at, OLD.outcome)
    IS DISTINCT FROM (NEW.enrolment_id, NEW.delivery_id, NEW.kind, NEW.received_at, NEW.outcome))
  EXECUTE FUNCTION note_result_after();--> statement-breakpoint
CREATE TRIGGER result_of_gone AFTER DELETE ON incoming FOR EACH ROW EXECUTE FUNCTION note_result_before();--> statement-breakpoint
CREATE TRIGGER result_of_come AFTER INSERT ON events FOR EACH ROW
  WHEN (NEW.kind = 'complaint') EXECUTE FUNCTION note_result_after();--> statement-breakpoint
CREATE TRIGGER result_of_changed AFTER UPDATE ON events FOR EACH ROW
  WHEN (OLD.kind = 'complaint' OR NEW.kind = 'complaint') EXECUTE FUNCTION note_result_after();--> statement-breakpoint
CREATE TRIGGER result_of_changed_from AFTER UPDATE ON events FOR EACH ROW
  WHEN (OLD.kind = 'complaint' AND OLD.enrolment_id IS DISTINCT FROM NEW.enrolment_id) EXECUTE FUNCTION note_result_before();--> statement-breakpoint
CREATE TRIGGER result_of_gone AFTER DELETE ON events FOR EACH ROW
  WHEN (OLD.kind = 'complaint') EXECUTE FUNCTION note_result_before();--> statement-breakpoint
CREATE TRIGGER result_of_come AFTER INSERT ON delivery_signals FOR EACH ROW EXECUTE FUNCTION note_result_after();--> statement-breakpoint
CREATE TRIGGER result_of_changed AFTER UPDATE ON delivery_signals FOR EACH ROW
  WHEN ((OLD.opens > 0, OLD.by_machine > 0) IS DISTINCT FROM (NEW.opens > 0, NEW.by_machine > 0))
  EXECUTE FUNCTION note_result_after();--> statement-breakpoint
CREATE TRIGGER result_of_gone AFTER DELETE ON delivery_signals FOR EACH ROW EXECUTE FUNCTION note_result_before();--> statement-breakpoint
-- What has left already is counted like anything new.
INSERT INTO result_changes (enrolment_id) SELECT DISTINCT enrolment_id FROM deliveries WHERE sent_at IS NOT NULL;
