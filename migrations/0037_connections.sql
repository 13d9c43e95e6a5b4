CREATE TABLE "connection_bodies" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "connection_bodies_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"connection_id" text NOT NULL,
	"received_at" bigint NOT NULL,
	"body" text NOT NULL,
	"state" text NOT NULL,
	"outcome" jsonb NOT NULL,
	CONSTRAINT "connection_bodies_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE TABLE "connections" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"token_hash" text NOT NULL,
	"mapping" text DEFAULT '' NOT NULL,
	"signature" jsonb,
	"is_on" boolean DEFAULT true NOT NULL,
	"created_at" bigint NOT NULL,
	CONSTRAINT "connections_shop_id_id_pk" PRIMARY KEY("shop_id","id"),
	CONSTRAINT "connections_token_hash_unique" UNIQUE("token_hash")
);
--> statement-breakpoint
CREATE INDEX "connection_bodies_newest" ON "connection_bodies" USING btree ("shop_id","connection_id","id");