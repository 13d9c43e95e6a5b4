ALTER TABLE "runs" RENAME COLUMN "occasion" TO "idempotency_key";--> statement-breakpoint
ALTER INDEX "runs_once_per_occasion" RENAME TO "runs_once_per_idempotency_key";--> statement-breakpoint
ALTER TABLE "customers" RENAME COLUMN "email_told" TO "email_recorded";--> statement-breakpoint
ALTER TABLE "customers" RENAME COLUMN "sms_told" TO "sms_recorded";--> statement-breakpoint
ALTER TABLE "customers" RENAME COLUMN "told_at" TO "recorded_at";--> statement-breakpoint
-- In documents "draw" is called "lottery". Within a text a quote is escaped, so only the key itself is meant.
UPDATE "workflows" SET "draft" = replace("draft"::text, '"draw": "', '"lottery": "')::jsonb WHERE "draft"::text LIKE '%"draw": "%';--> statement-breakpoint
UPDATE "workflow_versions" SET "definition" = replace("definition"::text, '"draw": "', '"lottery": "')::jsonb WHERE "definition"::text LIKE '%"draw": "%';--> statement-breakpoint
-- The answers to findings name the place in a text of their own.
UPDATE "workflows" SET "draft" = jsonb_set("draft", '{answered}', replace(("draft"->'answered')::text, '\"fork\":', '\"branching\":')::jsonb) WHERE "draft"->'answered' IS NOT NULL;--> statement-breakpoint
UPDATE "workflow_versions" SET "definition" = jsonb_set("definition", '{answered}', replace(("definition"->'answered')::text, '\"fork\":', '\"branching\":')::jsonb) WHERE "definition"->'answered' IS NOT NULL;
