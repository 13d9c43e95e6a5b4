CREATE TABLE "refused_events" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "refused_events_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"received_at" bigint NOT NULL,
	"sender" text NOT NULL,
	"event" jsonb NOT NULL,
	"problems" jsonb NOT NULL,
	CONSTRAINT "refused_events_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
