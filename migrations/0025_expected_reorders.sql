CREATE TABLE "expected_reorders" (
	"shop_id" text NOT NULL,
	"customer_id" text NOT NULL,
	"product_id" text NOT NULL,
	"order_id" text NOT NULL,
	"line" integer NOT NULL,
	"expected_at" bigint NOT NULL,
	"expected" jsonb NOT NULL,
	CONSTRAINT "expected_reorders_shop_id_customer_id_product_id_pk" PRIMARY KEY("shop_id","customer_id","product_id")
);
--> statement-breakpoint
CREATE TABLE "reorder_intervals" (
	"shop_id" text NOT NULL,
	"kind" text NOT NULL,
	"key" text NOT NULL,
	"interval" jsonb NOT NULL,
	"checked" jsonb,
	CONSTRAINT "reorder_intervals_shop_id_kind_key_pk" PRIMARY KEY("shop_id","kind","key")
);
--> statement-breakpoint
CREATE TABLE "reorder_reckonings" (
	"shop_id" text PRIMARY KEY NOT NULL,
	"reckoned_at" bigint,
	"next_at" bigint NOT NULL
);
--> statement-breakpoint
CREATE INDEX "expected_reorders_at" ON "expected_reorders" USING btree ("shop_id","expected_at");--> statement-breakpoint
CREATE INDEX "expected_reorders_order" ON "expected_reorders" USING btree ("shop_id","order_id");