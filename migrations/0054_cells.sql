CREATE TABLE "shop_fences" (
	"shop_id" text PRIMARY KEY NOT NULL,
	"since" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "shop_places" (
	"shop_id" text PRIMARY KEY NOT NULL,
	"cell" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "shops" ADD COLUMN "moving_since" bigint;