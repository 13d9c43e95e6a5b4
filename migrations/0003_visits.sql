CREATE TABLE "workflow_visits" (
	"shop_id" text NOT NULL,
	"workflow_id" text NOT NULL,
	"visit" text NOT NULL,
	"user_id" text NOT NULL,
	"seen_at" bigint NOT NULL,
	CONSTRAINT "workflow_visits_shop_id_workflow_id_visit_pk" PRIMARY KEY("shop_id","workflow_id","visit")
);
