CREATE TABLE "erasures" (
	"shop_id" text NOT NULL,
	"digest" text NOT NULL,
	"erased_at" bigint NOT NULL,
	"person" text NOT NULL,
	"returned_at" bigint,
	CONSTRAINT "erasures_shop_id_digest_pk" PRIMARY KEY("shop_id","digest")
);
--> statement-breakpoint
ALTER TABLE "shops" ADD COLUMN "retention" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "shops" ADD COLUMN "erasure_key" text;