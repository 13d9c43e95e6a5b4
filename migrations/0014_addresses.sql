CREATE TABLE "senders" (
	"shop_id" text NOT NULL,
	"address" text NOT NULL,
	"name" text NOT NULL,
	"verified_at" bigint,
	CONSTRAINT "senders_shop_id_address_pk" PRIMARY KEY("shop_id","address")
);
--> statement-breakpoint
CREATE TABLE "staff_groups" (
	"shop_id" text NOT NULL,
	"key" text NOT NULL,
	"name" text NOT NULL,
	"addresses" jsonb NOT NULL,
	CONSTRAINT "staff_groups_shop_id_key_pk" PRIMARY KEY("shop_id","key")
);
