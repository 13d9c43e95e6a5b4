CREATE TABLE "shop_rounds" (
	"shop_id" text NOT NULL,
	"kind" text NOT NULL,
	"at" bigint NOT NULL,
	CONSTRAINT "shop_rounds_shop_id_kind_pk" PRIMARY KEY("shop_id","kind")
);
