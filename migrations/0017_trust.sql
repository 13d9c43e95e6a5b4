-- Part of PostgreSQL, and trusted: whoever owns the database may add it.
CREATE EXTENSION IF NOT EXISTS pg_trgm;--> statement-breakpoint
-- Sessions of before do not say when they began; people sign in anew.
DELETE FROM "sessions";--> statement-breakpoint
CREATE TABLE "sign_in_tries" (
	"who" text PRIMARY KEY NOT NULL,
	"began_at" bigint NOT NULL,
	"tries" integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE "ways_out" (
	"token" text PRIMARY KEY NOT NULL,
	"shop_id" text NOT NULL,
	"customer_id" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "dead_addresses" (
	"shop_id" text NOT NULL,
	"address" text NOT NULL,
	"since" bigint NOT NULL,
	CONSTRAINT "dead_addresses_shop_id_address_pk" PRIMARY KEY("shop_id","address")
);
--> statement-breakpoint
DROP INDEX "customers_email";--> statement-breakpoint
ALTER TABLE "sessions" ADD COLUMN "family" text NOT NULL;--> statement-breakpoint
ALTER TABLE "sessions" ADD COLUMN "started_at" bigint NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "email_told" boolean;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "sms_told" boolean;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "email_said" boolean;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "email_said_at" bigint;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "email_said_how" text;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "sms_said" boolean;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "sms_said_at" bigint;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "sms_said_how" text;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "may_email" boolean GENERATED ALWAYS AS (coalesce(email_said, email_told)) STORED;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "may_text" boolean GENERATED ALWAYS AS (coalesce(sms_said, sms_told)) STORED;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "told_at" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "search" text GENERATED ALWAYS AS (coalesce(first_name || ' ', '') || coalesce(last_name || ' ', '') || coalesce(email, '')) STORED;--> statement-breakpoint
CREATE INDEX "sessions_family" ON "sessions" USING btree ("family");--> statement-breakpoint
CREATE INDEX "ledger_kind" ON "ledger" USING btree ("shop_id","kind","id");--> statement-breakpoint
CREATE INDEX "ledger_customer" ON "ledger" USING btree ("shop_id","customer_id","id");--> statement-breakpoint
CREATE INDEX "runs_customer" ON "runs" USING btree ("shop_id","customer_id");--> statement-breakpoint
CREATE INDEX "runs_in_progress" ON "runs" USING btree ("shop_id","workflow_id","version") WHERE status = 'inProgress';--> statement-breakpoint
CREATE INDEX "customers_search" ON "customers" USING gin ("search" gin_trgm_ops);--> statement-breakpoint
CREATE INDEX "events_type" ON "events" USING btree ("shop_id","type","time");--> statement-breakpoint
CREATE INDEX "orders_number" ON "orders" USING gin ("number" gin_trgm_ops);--> statement-breakpoint
CREATE INDEX "customers_email" ON "customers" USING btree ("shop_id",lower(email));--> statement-breakpoint
-- What was known of consent: the shop's picture, and what people said themselves.
UPDATE "customers" SET
	"email_told" = "email_consent",
	"sms_told" = "sms_consent",
	"told_at" = jsonb_build_object('email', "as_of", 'firstName', "as_of", 'lastName', "as_of", 'phone', "as_of", 'zone', "as_of", 'country', "as_of", 'language', "as_of", 'emailConsent', "as_of", 'smsConsent', "as_of", 'tags', "as_of"),
	"email_said" = CASE WHEN "suppressed" IN ('unsubscribed', 'complained') THEN false END,
	"email_said_at" = CASE WHEN "suppressed" IN ('unsubscribed', 'complained') THEN "as_of" END,
	"email_said_how" = CASE "suppressed" WHEN 'unsubscribed' THEN 'unsubscribe link' WHEN 'complained' THEN 'complaint' END;--> statement-breakpoint
INSERT INTO "dead_addresses" ("shop_id", "address", "since")
	SELECT "shop_id", lower("email"), max("as_of") FROM "customers"
	WHERE "suppressed" = 'bounced' AND "email" IS NOT NULL GROUP BY 1, 2;--> statement-breakpoint
ALTER TABLE "customers" DROP COLUMN "email_consent";--> statement-breakpoint
ALTER TABLE "customers" DROP COLUMN "sms_consent";--> statement-breakpoint
ALTER TABLE "customers" DROP COLUMN "suppressed";