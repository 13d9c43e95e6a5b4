CREATE TABLE "alerts" (
	"shop_id" text NOT NULL,
	"code" text NOT NULL,
	"about" text NOT NULL,
	"says" text NOT NULL,
	"goes_to" text NOT NULL,
	"since" bigint NOT NULL,
	"told_at" bigint,
	CONSTRAINT "alerts_shop_id_code_about_pk" PRIMARY KEY("shop_id","code","about")
);
--> statement-breakpoint
CREATE TABLE "installation_notes" (
	"kind" text PRIMARY KEY NOT NULL,
	"at" bigint NOT NULL
);
