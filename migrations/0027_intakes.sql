CREATE TABLE "intake_people" (
	"shop_id" text NOT NULL,
	"intake_id" bigint NOT NULL,
	"place" integer NOT NULL,
	"workflow_id" text NOT NULL,
	"customer_id" text NOT NULL,
	"subject_id" text,
	"line" integer,
	"idempotency_key" text NOT NULL,
	"event_seq" bigint,
	"occasion_at" bigint NOT NULL,
	"date" bigint,
	"due_at" bigint NOT NULL,
	CONSTRAINT "intake_people_shop_id_intake_id_place_pk" PRIMARY KEY("shop_id","intake_id","place")
);
--> statement-breakpoint
CREATE TABLE "intakes" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "intakes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"workflow_id" text NOT NULL,
	"person" text NOT NULL,
	"started_at" bigint NOT NULL,
	"per_hour" integer NOT NULL,
	"people" integer NOT NULL,
	"entered" integer DEFAULT 0 NOT NULL,
	"turned_away" integer DEFAULT 0 NOT NULL,
	"ended_at" bigint,
	"is_stopped" boolean DEFAULT false NOT NULL,
	CONSTRAINT "intakes_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE INDEX "intake_people_due" ON "intake_people" USING btree ("shop_id","due_at");--> statement-breakpoint
CREATE INDEX "intakes_workflow" ON "intakes" USING btree ("shop_id","workflow_id");