CREATE TABLE "workflow_states" (
	"shop_id" text NOT NULL,
	"workflow_id" text NOT NULL,
	"at" bigint NOT NULL,
	"state" text NOT NULL
);
--> statement-breakpoint
CREATE INDEX "workflow_states_workflow" ON "workflow_states" USING btree ("shop_id","workflow_id","at");