CREATE TABLE "link_targets" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"url" text NOT NULL,
	CONSTRAINT "link_targets_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "short_links" (
	"id" text PRIMARY KEY NOT NULL,
	"shop_id" text NOT NULL,
	"message_id" bigint NOT NULL,
	"url" text NOT NULL
);
