-- What results are made of is more now: everything is counted afresh.
TRUNCATE "person_results", "result_counts", "step_counts";--> statement-breakpoint
CREATE TABLE "text_counts" (
	"campaign_id" integer NOT NULL,
	"step" integer NOT NULL,
	"version_id" integer NOT NULL,
	"variant" integer NOT NULL,
	"for_clicked" boolean NOT NULL,
	"written" integer NOT NULL,
	"bounced" integer NOT NULL,
	"unreachable" integer NOT NULL,
	"blocked" integer NOT NULL,
	"unsubscribed" integer NOT NULL,
	"complained" integer NOT NULL,
	"opened" integer NOT NULL,
	"clicked" integer NOT NULL,
	"by_programs" integer NOT NULL,
	"replied" integer NOT NULL,
	"interested" integer NOT NULL,
	"meetings" integer NOT NULL,
	CONSTRAINT "text_counts_campaign_id_step_version_id_variant_for_clicked_pk" PRIMARY KEY("campaign_id","step","version_id","variant","for_clicked")
);
--> statement-breakpoint
ALTER TABLE "delivery_signals" ADD COLUMN "country" text;--> statement-breakpoint
ALTER TABLE "signals" ADD COLUMN "country" text;--> statement-breakpoint
ALTER TABLE "campaigns" ADD COLUMN "watches_places" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "person_results" ADD COLUMN "country" text;--> statement-breakpoint
ALTER TABLE "person_results" ADD COLUMN "versions" integer[] NOT NULL;--> statement-breakpoint
ALTER TABLE "person_results" ADD COLUMN "marks" integer[] NOT NULL;--> statement-breakpoint
ALTER TABLE "person_results" ADD COLUMN "bounced_by" text;--> statement-breakpoint
ALTER TABLE "result_counts" ADD COLUMN "unreachable" integer NOT NULL;--> statement-breakpoint
ALTER TABLE "result_counts" ADD COLUMN "blocked" integer NOT NULL;--> statement-breakpoint
DROP TRIGGER result_of_changed ON deliveries;--> statement-breakpoint
CREATE TRIGGER result_of_changed AFTER UPDATE ON deliveries FOR EACH ROW
  WHEN ((NEW.sent_at IS NOT NULL OR OLD.sent_at IS NOT NULL)
    AND (OLD.enrolment_id, OLD.step, OLD.mailbox_id, OLD.sent_at, OLD.version_id, OLD.for_clicked)
    IS DISTINCT FROM (NEW.enrolment_id, NEW.step, NEW.mailbox_id, NEW.sent_at, NEW.version_id, NEW.for_clicked))
  EXECUTE FUNCTION note_result_after();--> statement-breakpoint
DROP TRIGGER result_of_changed ON delivery_signals;--> statement-breakpoint
CREATE TRIGGER result_of_changed AFTER UPDATE ON delivery_signals FOR EACH ROW
  WHEN ((OLD.opens > 0, OLD.by_machine > 0, OLD.first_open_at IS NULL, OLD.first_click_at, OLD.country)
    IS DISTINCT FROM (NEW.opens > 0, NEW.by_machine > 0, NEW.first_open_at IS NULL, NEW.first_click_at, NEW.country))
  EXECUTE FUNCTION note_result_after();--> statement-breakpoint
DROP TRIGGER result_of_come ON events;--> statement-breakpoint
CREATE TRIGGER result_of_come AFTER INSERT ON events FOR EACH ROW
  WHEN (NEW.kind IN ('complaint', 'hard_bounce', 'soft_bounce', 'blocked')) EXECUTE FUNCTION note_result_after();--> statement-breakpoint
DROP TRIGGER result_of_changed ON events;--> statement-breakpoint
CREATE TRIGGER result_of_changed AFTER UPDATE ON events FOR EACH ROW
  WHEN (OLD.kind IN ('complaint', 'hard_bounce', 'soft_bounce', 'blocked') OR NEW.kind IN ('complaint', 'hard_bounce', 'soft_bounce', 'blocked'))
  EXECUTE FUNCTION note_result_after();--> statement-breakpoint
DROP TRIGGER result_of_changed_from ON events;--> statement-breakpoint
CREATE TRIGGER result_of_changed_from AFTER UPDATE ON events FOR EACH ROW
  WHEN (OLD.kind IN ('complaint', 'hard_bounce', 'soft_bounce', 'blocked') AND OLD.enrolment_id IS DISTINCT FROM NEW.enrolment_id)
  EXECUTE FUNCTION note_result_before();--> statement-breakpoint
DROP TRIGGER result_of_gone ON events;--> statement-breakpoint
CREATE TRIGGER result_of_gone AFTER DELETE ON events FOR EACH ROW
  WHEN (OLD.kind IN ('complaint', 'hard_bounce', 'soft_bounce', 'blocked')) EXECUTE FUNCTION note_result_before();--> statement-breakpoint
DELETE FROM result_changes;--> statement-breakpoint
INSERT INTO result_changes (enrolment_id) SELECT DISTINCT enrolment_id FROM deliveries WHERE sent_at IS NOT NULL;
