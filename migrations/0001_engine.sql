CREATE TABLE "coupons" (
	"shop_id" text NOT NULL,
	"code" text NOT NULL,
	"run_id" bigint NOT NULL,
	"workflow_id" text NOT NULL,
	"step" text NOT NULL,
	"customer_id" text NOT NULL,
	"discount" jsonb NOT NULL,
	"issued_at" bigint NOT NULL,
	"expires_at" bigint,
	CONSTRAINT "coupons_shop_id_code_pk" PRIMARY KEY("shop_id","code")
);
--> statement-breakpoint
CREATE TABLE "date_sweeps" (
	"shop_id" text NOT NULL,
	"workflow_id" text NOT NULL,
	"swept_until" bigint NOT NULL,
	"next_at" bigint NOT NULL,
	CONSTRAINT "date_sweeps_shop_id_workflow_id_pk" PRIMARY KEY("shop_id","workflow_id")
);
--> statement-breakpoint
CREATE TABLE "carts" (
	"shop_id" text NOT NULL,
	"kind" text NOT NULL,
	"id" text NOT NULL,
	"customer_id" text NOT NULL,
	"currency" text NOT NULL,
	"total_minor" bigint NOT NULL,
	"url" text,
	"lines" jsonb NOT NULL,
	"started_at" bigint NOT NULL,
	"as_of" bigint NOT NULL,
	CONSTRAINT "carts_shop_id_kind_id_pk" PRIMARY KEY("shop_id","kind","id")
);
--> statement-breakpoint
CREATE TABLE "reviews" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"customer_id" text NOT NULL,
	"order_id" text,
	"product_id" text,
	"title" text,
	"collection" text,
	"stars" integer NOT NULL,
	"text" text,
	"as_of" bigint NOT NULL,
	CONSTRAINT "reviews_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "subscriptions" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"customer_id" text NOT NULL,
	"status" text NOT NULL,
	"product_id" text NOT NULL,
	"title" text NOT NULL,
	"collection" text,
	"amount_minor" bigint NOT NULL,
	"currency" text NOT NULL,
	"interval" text NOT NULL,
	"automatic" boolean,
	"payment_method" text,
	"started_at" bigint,
	"next_payment_at" bigint,
	"ends_at" bigint,
	"trial_ends_at" bigint,
	"url" text,
	"as_of" bigint NOT NULL,
	CONSTRAINT "subscriptions_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
DROP INDEX "runs_once_per_event";--> statement-breakpoint
DROP INDEX "messages_open";--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "channel" text DEFAULT 'email' NOT NULL;--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "marketing" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "held_until" bigint;--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "marks" jsonb;--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "opened_at" bigint;--> statement-breakpoint
ALTER TABLE "messages" ADD COLUMN "clicked_at" bigint;--> statement-breakpoint
ALTER TABLE "ledger" RENAME COLUMN "order_id" TO "subject_id";--> statement-breakpoint
ALTER TABLE "runs" RENAME COLUMN "order_id" TO "subject_id";--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "line" integer;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "occasion" text;--> statement-breakpoint
UPDATE "runs" SET "occasion" = 'event:' || "event_seq";--> statement-breakpoint
ALTER TABLE "runs" ALTER COLUMN "occasion" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "parked_until" bigint;--> statement-breakpoint
UPDATE "runs" SET "parked_until" = coalesce("due_at", "held_due_at");--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "awaits" text;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "skip_next" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "skip_before" bigint;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "moved" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "created_at" bigint;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "last_order_at" bigint;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "tags" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "tag_changes" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "lists" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "properties" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "events" RENAME COLUMN "order_id" TO "subject_id";--> statement-breakpoint
ALTER TABLE "order_lines" ADD COLUMN "tags" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "order_lines" ADD COLUMN "starts_at" bigint;--> statement-breakpoint
ALTER TABLE "orders" ADD COLUMN "shipping_region" text;--> statement-breakpoint
ALTER TABLE "orders" ADD COLUMN "coupon_codes" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "shops" ADD COLUMN "message_gap" text;--> statement-breakpoint
ALTER TABLE "shops" ADD COLUMN "quiet_from" text;--> statement-breakpoint
ALTER TABLE "shops" ADD COLUMN "quiet_to" text;--> statement-breakpoint
ALTER TABLE "shops" ADD COLUMN "hook_secret" text;--> statement-breakpoint
CREATE UNIQUE INDEX "coupons_once_per_step" ON "coupons" USING btree ("shop_id","run_id","step");--> statement-breakpoint
CREATE INDEX "carts_customer" ON "carts" USING btree ("shop_id","customer_id");--> statement-breakpoint
CREATE INDEX "reviews_customer" ON "reviews" USING btree ("shop_id","customer_id");--> statement-breakpoint
CREATE INDEX "subscriptions_customer" ON "subscriptions" USING btree ("shop_id","customer_id");--> statement-breakpoint
CREATE INDEX "subscriptions_payment" ON "subscriptions" USING btree ("shop_id","next_payment_at");--> statement-breakpoint
CREATE INDEX "subscriptions_end" ON "subscriptions" USING btree ("shop_id","ends_at");--> statement-breakpoint
CREATE INDEX "subscriptions_trial" ON "subscriptions" USING btree ("shop_id","trial_ends_at");--> statement-breakpoint
CREATE INDEX "messages_customer" ON "messages" USING btree ("shop_id","customer_id","decided_at");--> statement-breakpoint
CREATE INDEX "messages_message_id" ON "messages" USING btree ("shop_id","message_id");--> statement-breakpoint
CREATE UNIQUE INDEX "runs_once_per_occasion" ON "runs" USING btree ("shop_id","workflow_id","occasion");--> statement-breakpoint
CREATE INDEX "runs_awaiting" ON "runs" USING btree ("shop_id","customer_id") WHERE awaits is not null;--> statement-breakpoint
CREATE INDEX "customers_last_order" ON "customers" USING btree ("shop_id","last_order_at");--> statement-breakpoint
CREATE INDEX "order_lines_start" ON "order_lines" USING btree ("shop_id","starts_at") WHERE starts_at is not null;--> statement-breakpoint
CREATE INDEX "orders_placed" ON "orders" USING btree ("shop_id","placed_at");--> statement-breakpoint
CREATE INDEX "messages_open" ON "messages" USING btree ("shop_id","status") WHERE status in ('queued', 'held', 'handingOver', 'failed', 'unsure');--> statement-breakpoint
ALTER TABLE "runs" DROP COLUMN "event_seq";--> statement-breakpoint
ALTER TABLE "runs" DROP COLUMN "held_due_at";--> statement-breakpoint
UPDATE "workflows" SET "draft" = jsonb_set("draft", '{trigger,kind}', '"event"');--> statement-breakpoint
UPDATE "workflow_versions" SET "definition" = jsonb_set("definition", '{trigger,kind}', '"event"');--> statement-breakpoint
UPDATE "ledger" SET "entry" = "entry" || '{"cause":{"by":"event"},"before":[]}' WHERE "kind" IN ('entered', 'turnedAway');--> statement-breakpoint
UPDATE "ledger" SET "entry" = "entry" || '{"reason":{"code":"time"},"zone":"UTC"}' WHERE "kind" = 'waits';--> statement-breakpoint
UPDATE "ledger" SET "entry" = "entry" || '{"before":[]}' WHERE "kind" IN ('left', 'skipped');
