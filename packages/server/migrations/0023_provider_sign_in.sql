CREATE TABLE "grants" (
	"id" serial PRIMARY KEY NOT NULL,
	"provider_id" integer NOT NULL,
	"username" text NOT NULL,
	"state" text,
	"verifier_sealed" text,
	"begun_at" bigint NOT NULL,
	"refusal" text,
	"refresh_token_sealed" text,
	"access_token_sealed" text,
	"granted_at" bigint,
	"renew_at" bigint,
	"expires_at" bigint,
	"renewing_until" bigint,
	CONSTRAINT "grants_state_unique" UNIQUE("state")
);
--> statement-breakpoint
CREATE TABLE "sign_in_providers" (
	"id" serial PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"issuer" text NOT NULL,
	"authorization_endpoint" text NOT NULL,
	"token_endpoint" text NOT NULL,
	"client_id" text NOT NULL,
	"client_secret_sealed" text,
	"secret_in_header" boolean NOT NULL,
	"names_itself" boolean NOT NULL,
	"scopes" text NOT NULL,
	"extra_parameters" text DEFAULT '' NOT NULL
);
--> statement-breakpoint
ALTER TABLE "mailboxes" ALTER COLUMN "password_sealed" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD COLUMN "grant_id" integer;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_provider_id_sign_in_providers_id_fk" FOREIGN KEY ("provider_id") REFERENCES "public"."sign_in_providers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD CONSTRAINT "mailboxes_grant_id_grants_id_fk" FOREIGN KEY ("grant_id") REFERENCES "public"."grants"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mailboxes" ADD CONSTRAINT "mailboxes_one_credential" CHECK (("mailboxes"."password_sealed" is null) <> ("mailboxes"."grant_id" is null));