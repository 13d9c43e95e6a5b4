CREATE TABLE "bulk_changes" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "bulk_changes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"workflow_id" text NOT NULL,
	"kind" text NOT NULL,
	"person" text NOT NULL,
	"begun_at" bigint NOT NULL,
	"skip_before" bigint,
	"to_version" integer,
	"people" integer NOT NULL,
	"done" integer DEFAULT 0 NOT NULL,
	"stay" integer DEFAULT 0 NOT NULL,
	"last_version" integer DEFAULT 0 NOT NULL,
	"last_run" bigint DEFAULT 0 NOT NULL,
	"up_to_run" bigint NOT NULL,
	"ended_at" bigint,
	CONSTRAINT "bulk_changes_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
DROP INDEX "runs_in_progress";--> statement-breakpoint
CREATE INDEX "bulk_changes_open" ON "bulk_changes" USING btree ("shop_id","workflow_id") WHERE ended_at is null;--> statement-breakpoint
CREATE INDEX "bulk_changes_workflow" ON "bulk_changes" USING btree ("shop_id","workflow_id","id");--> statement-breakpoint
CREATE INDEX "runs_in_progress" ON "runs" USING btree ("shop_id","workflow_id","version","id") WHERE status = 'inProgress';