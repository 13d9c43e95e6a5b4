CREATE TABLE "answered_requests" (
	"shop_id" text NOT NULL,
	"key_id" text NOT NULL,
	"idempotency_key" text NOT NULL,
	"digest" text NOT NULL,
	"status" integer,
	"body" text,
	"started_at" bigint NOT NULL,
	CONSTRAINT "answered_requests_shop_id_key_id_idempotency_key_pk" PRIMARY KEY("shop_id","key_id","idempotency_key")
);
--> statement-breakpoint
ALTER TABLE "api_keys" ADD COLUMN "scopes" jsonb DEFAULT '["events"]'::jsonb NOT NULL;--> statement-breakpoint
CREATE INDEX "answered_requests_age" ON "answered_requests" USING btree ("started_at");