CREATE TABLE "due_runs" (
	"shop_id" text NOT NULL,
	"run_id" bigint NOT NULL,
	"due_at" bigint NOT NULL,
	CONSTRAINT "due_runs_shop_id_run_id_pk" PRIMARY KEY("shop_id","run_id")
);
--> statement-breakpoint
CREATE INDEX "due_runs_due" ON "due_runs" USING btree ("shop_id","due_at","run_id");--> statement-breakpoint
ALTER TABLE "due_runs" SET (autovacuum_vacuum_scale_factor = 0.01, autovacuum_vacuum_threshold = 2000, autovacuum_vacuum_cost_delay = 0);--> statement-breakpoint
-- Room in each page for what a row is next, so that it stays there and no index has to be told.
ALTER TABLE "runs" SET (fillfactor = 80);--> statement-breakpoint
CREATE FUNCTION "due_runs_follow"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF TG_OP = 'UPDATE' THEN
		DELETE FROM due_runs d USING changed c WHERE c.due_at IS NULL AND d.shop_id = c.shop_id AND d.run_id = c.id;
	END IF;
	INSERT INTO due_runs AS d (shop_id, run_id, due_at)
		SELECT c.shop_id, c.id, c.due_at FROM changed c WHERE c.due_at IS NOT NULL
		ON CONFLICT (shop_id, run_id) DO UPDATE SET due_at = excluded.due_at WHERE d.due_at <> excluded.due_at;
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE FUNCTION "due_runs_go"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	DELETE FROM due_runs d USING gone g WHERE d.shop_id = g.shop_id AND d.run_id = g.id;
	RETURN NULL;
END $$;--> statement-breakpoint
CREATE TRIGGER "due_runs_inserted" AFTER INSERT ON "runs" REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION due_runs_follow();--> statement-breakpoint
CREATE TRIGGER "due_runs_updated" AFTER UPDATE ON "runs" REFERENCING NEW TABLE AS changed FOR EACH STATEMENT EXECUTE FUNCTION due_runs_follow();--> statement-breakpoint
CREATE TRIGGER "due_runs_deleted" AFTER DELETE ON "runs" REFERENCING OLD TABLE AS gone FOR EACH STATEMENT EXECUTE FUNCTION due_runs_go();--> statement-breakpoint
-- Behind the triggers, which nobody who writes runs can overtake: they wait for the end of this.
INSERT INTO "due_runs" SELECT "shop_id", "id", "due_at" FROM "runs" WHERE "due_at" IS NOT NULL;--> statement-breakpoint
DROP INDEX "runs_due";
