CREATE TABLE "test_decisions" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "test_decisions_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"workflow_id" text NOT NULL,
	"step" text NOT NULL,
	"decided_at" bigint NOT NULL,
	"decided_by" text NOT NULL,
	"arm" text NOT NULL,
	"note" text NOT NULL,
	"report" jsonb NOT NULL,
	CONSTRAINT "test_decisions_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE INDEX "test_decisions_workflow" ON "test_decisions" USING btree ("shop_id","workflow_id");