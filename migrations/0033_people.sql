CREATE TABLE "segments" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"condition" jsonb NOT NULL,
	"person" text NOT NULL,
	"changed_at" bigint NOT NULL,
	CONSTRAINT "segments_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
ALTER TABLE "ledger" ALTER COLUMN "workflow_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "ledger" ALTER COLUMN "version" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" drop column "search";--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "search" text GENERATED ALWAYS AS (coalesce(first_name || ' ', '') || coalesce(last_name || ' ', '') || coalesce(email || ' ', '') || coalesce(phone, '')) STORED;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "quiet_until" bigint;--> statement-breakpoint
CREATE UNIQUE INDEX "segments_name" ON "segments" USING btree ("shop_id",lower(name));--> statement-breakpoint
CREATE INDEX "customers_search" ON "customers" USING gin ("search" gin_trgm_ops);
