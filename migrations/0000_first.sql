CREATE TABLE "api_keys" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"prefix" text NOT NULL,
	"key_hash" text NOT NULL,
	"created_at" bigint NOT NULL,
	"last_used_at" bigint,
	"revoked_at" bigint,
	CONSTRAINT "api_keys_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "sessions" (
	"token_hash" text PRIMARY KEY NOT NULL,
	"shop_id" text NOT NULL,
	"user_id" text NOT NULL,
	"expires_at" bigint NOT NULL,
	"rotate_at" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "users" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"email" text NOT NULL,
	"name" text NOT NULL,
	"role" text NOT NULL,
	"password_hash" text NOT NULL,
	CONSTRAINT "users_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "mails" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "mails_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"raw" text NOT NULL,
	"message_id" text NOT NULL,
	"date" bigint NOT NULL,
	"from_text" text NOT NULL,
	"to_address" text NOT NULL,
	"subject" text NOT NULL,
	"plain" text NOT NULL,
	"html" text,
	"headers" jsonb NOT NULL,
	CONSTRAINT "mails_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "messages" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "messages_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"run_id" bigint NOT NULL,
	"workflow_id" text NOT NULL,
	"version" integer NOT NULL,
	"step" text NOT NULL,
	"customer_id" text NOT NULL,
	"status" text NOT NULL,
	"worker" text,
	"message_id" text NOT NULL,
	"to_address" text,
	"subject" text,
	"decided_at" bigint NOT NULL,
	"sent_at" bigint,
	"attempts" integer DEFAULT 0 NOT NULL,
	"last_error" text,
	CONSTRAINT "messages_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "workers" (
	"id" text PRIMARY KEY NOT NULL,
	"lock_key" bigint GENERATED ALWAYS AS IDENTITY (sequence name "workers_lock_key_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"pool_id" text
);
--> statement-breakpoint
CREATE TABLE "ledger" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "ledger_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"at" bigint NOT NULL,
	"workflow_id" text NOT NULL,
	"version" integer NOT NULL,
	"run_id" bigint,
	"customer_id" text NOT NULL,
	"order_id" text,
	"kind" text NOT NULL,
	"entry" jsonb NOT NULL,
	CONSTRAINT "ledger_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "runs" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "runs_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"workflow_id" text NOT NULL,
	"version" integer NOT NULL,
	"customer_id" text NOT NULL,
	"order_id" text,
	"event_seq" bigint NOT NULL,
	"entered_at" bigint NOT NULL,
	"status" text NOT NULL,
	"step" text,
	"since" bigint NOT NULL,
	"due_at" bigint,
	"held_due_at" bigint,
	"outcome" text,
	CONSTRAINT "runs_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "customers" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"email" text,
	"first_name" text,
	"last_name" text,
	"phone" text,
	"zone" text,
	"country" text,
	"language" text,
	"email_consent" boolean,
	"sms_consent" boolean,
	"suppressed" text,
	"as_of" bigint NOT NULL,
	CONSTRAINT "customers_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "events" (
	"shop_id" text NOT NULL,
	"seq" bigint GENERATED ALWAYS AS IDENTITY (sequence name "events_seq_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"source" text NOT NULL,
	"event_id" text NOT NULL,
	"type" text NOT NULL,
	"time" bigint NOT NULL,
	"received_at" bigint NOT NULL,
	"customer_id" text NOT NULL,
	"order_id" text,
	"data" jsonb NOT NULL,
	"considered" boolean DEFAULT false NOT NULL,
	CONSTRAINT "events_shop_id_source_event_id_pk" PRIMARY KEY("shop_id","source","event_id")
);
--> statement-breakpoint
CREATE TABLE "order_lines" (
	"shop_id" text NOT NULL,
	"order_id" text NOT NULL,
	"position" integer NOT NULL,
	"product_id" text NOT NULL,
	"title" text NOT NULL,
	"collection" text,
	"quantity" integer NOT NULL,
	"unit_price_minor" bigint NOT NULL,
	CONSTRAINT "order_lines_shop_id_order_id_position_pk" PRIMARY KEY("shop_id","order_id","position")
);
--> statement-breakpoint
CREATE TABLE "orders" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"number" text NOT NULL,
	"customer_id" text NOT NULL,
	"status" text NOT NULL,
	"currency" text NOT NULL,
	"total_minor" bigint NOT NULL,
	"shipping_country" text,
	"payment_method" text,
	"tracking_url" text,
	"placed_at" bigint,
	"as_of" bigint NOT NULL,
	CONSTRAINT "orders_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "products" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"title" text NOT NULL,
	"collection" text,
	"price_minor" bigint NOT NULL,
	"currency" text NOT NULL,
	"as_of" bigint NOT NULL,
	CONSTRAINT "products_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "shops" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"zone" text NOT NULL,
	"currency" text NOT NULL,
	"locale" text NOT NULL,
	"default_sender_name" text NOT NULL,
	"default_sender_address" text NOT NULL,
	"clock_now" bigint,
	"clock_target" bigint
);
--> statement-breakpoint
CREATE TABLE "workflow_versions" (
	"shop_id" text NOT NULL,
	"workflow_id" text NOT NULL,
	"version" integer NOT NULL,
	"definition" jsonb NOT NULL,
	"published_at" bigint NOT NULL,
	"published_by" text NOT NULL,
	CONSTRAINT "workflow_versions_shop_id_workflow_id_version_pk" PRIMARY KEY("shop_id","workflow_id","version")
);
--> statement-breakpoint
CREATE TABLE "workflows" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"state" text NOT NULL,
	"draft" jsonb NOT NULL,
	"draft_revision" integer NOT NULL,
	"live_version" integer,
	"created_at" bigint NOT NULL,
	"changed_at" bigint NOT NULL,
	CONSTRAINT "workflows_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
ALTER TABLE "sessions" ADD CONSTRAINT "sessions_shop_id_user_id_users_shop_id_id_fk" FOREIGN KEY ("shop_id","user_id") REFERENCES "public"."users"("shop_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "api_keys_hash" ON "api_keys" USING btree ("key_hash");--> statement-breakpoint
CREATE INDEX "sessions_user" ON "sessions" USING btree ("shop_id","user_id");--> statement-breakpoint
CREATE UNIQUE INDEX "users_email" ON "users" USING btree ("email");--> statement-breakpoint
CREATE INDEX "mails_newest" ON "mails" USING btree ("shop_id","date","id");--> statement-breakpoint
CREATE UNIQUE INDEX "messages_once_per_step" ON "messages" USING btree ("shop_id","run_id","step");--> statement-breakpoint
CREATE INDEX "messages_open" ON "messages" USING btree ("shop_id","status") WHERE status in ('queued', 'handingOver', 'failed', 'unsure');--> statement-breakpoint
CREATE INDEX "messages_workflow" ON "messages" USING btree ("shop_id","workflow_id","decided_at");--> statement-breakpoint
CREATE INDEX "ledger_run" ON "ledger" USING btree ("shop_id","run_id");--> statement-breakpoint
CREATE INDEX "ledger_workflow" ON "ledger" USING btree ("shop_id","workflow_id","id");--> statement-breakpoint
CREATE UNIQUE INDEX "runs_once_per_event" ON "runs" USING btree ("shop_id","workflow_id","event_seq");--> statement-breakpoint
CREATE INDEX "runs_due" ON "runs" USING btree ("shop_id","due_at") WHERE due_at is not null;--> statement-breakpoint
CREATE INDEX "runs_entries" ON "runs" USING btree ("shop_id","workflow_id","customer_id","entered_at");--> statement-breakpoint
CREATE INDEX "customers_email" ON "customers" USING btree ("shop_id","email");--> statement-breakpoint
CREATE INDEX "events_seq" ON "events" USING btree ("shop_id","seq");--> statement-breakpoint
CREATE INDEX "events_history" ON "events" USING btree ("shop_id","customer_id","type","time");--> statement-breakpoint
CREATE INDEX "orders_customer" ON "orders" USING btree ("shop_id","customer_id");--> statement-breakpoint
CREATE INDEX "orders_newest" ON "orders" USING btree ("shop_id","as_of");