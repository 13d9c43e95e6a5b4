CREATE TABLE "saved_blocks" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"blocks" jsonb NOT NULL,
	CONSTRAINT "saved_blocks_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
