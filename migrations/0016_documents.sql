CREATE TABLE "documents" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"type" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	"made_at" bigint NOT NULL,
	CONSTRAINT "documents_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
