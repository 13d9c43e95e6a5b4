CREATE TABLE "designs" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"revision" integer NOT NULL,
	"name" text NOT NULL,
	"subject" text NOT NULL,
	"preview_text" text NOT NULL,
	"blocks" jsonb NOT NULL,
	"made_at" bigint NOT NULL,
	CONSTRAINT "designs_shop_id_id_revision_pk" PRIMARY KEY("shop_id","id","revision")
);
