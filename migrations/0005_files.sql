CREATE TABLE "files" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"type" text NOT NULL,
	"width" integer NOT NULL,
	"height" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	"made_at" bigint NOT NULL,
	CONSTRAINT "files_shop_id_id_pk" PRIMARY KEY("shop_id","id"),
	CONSTRAINT "files_id_unique" UNIQUE("id")
);
