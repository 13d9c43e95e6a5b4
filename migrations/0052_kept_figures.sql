CREATE TABLE "kept_figures" (
	"shop_id" text NOT NULL,
	"key" text NOT NULL,
	"as_of" bigint NOT NULL,
	"took_ms" integer NOT NULL,
	"figures" jsonb NOT NULL,
	CONSTRAINT "kept_figures_shop_id_key_pk" PRIMARY KEY("shop_id","key")
);
