CREATE TABLE "changes" (
	"shop_id" text NOT NULL,
	"customer_id" text NOT NULL,
	"at" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "sending_days" (
	"shop_id" text NOT NULL,
	"day" bigint NOT NULL,
	"until" bigint NOT NULL,
	"counts" jsonb NOT NULL,
	CONSTRAINT "sending_days_shop_id_day_pk" PRIMARY KEY("shop_id","day")
);
--> statement-breakpoint
CREATE TABLE "result_days" (
	"shop_id" text NOT NULL,
	"workflow_id" text NOT NULL,
	"window_days" integer NOT NULL,
	"day" bigint NOT NULL,
	"until" bigint NOT NULL,
	"counts" jsonb NOT NULL,
	CONSTRAINT "result_days_shop_id_workflow_id_window_days_day_pk" PRIMARY KEY("shop_id","workflow_id","window_days","day")
);
--> statement-breakpoint
CREATE INDEX "changes_shop" ON "changes" USING btree ("shop_id");--> statement-breakpoint
CREATE INDEX "ledger_days" ON "ledger" USING btree ("shop_id","at") WHERE kind in ('entered', 'ended', 'left', 'retired', 'sent');--> statement-breakpoint
CREATE INDEX "runs_entered" ON "runs" USING btree ("shop_id","workflow_id","entered_at");--> statement-breakpoint
CREATE INDEX "events_message" ON "events" USING btree ("shop_id",(data->'message'->>'id')) WHERE type like 'message.%';