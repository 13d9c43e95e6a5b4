ALTER TABLE "workflows" ADD COLUMN "place" bigserial NOT NULL;--> statement-breakpoint
-- Those that are there keep the order they had.
UPDATE "workflows" SET "place" = "numbered"."place"
FROM (SELECT "shop_id", "id", row_number() OVER (ORDER BY "created_at", "id") AS "place" FROM "workflows") AS "numbered"
WHERE "workflows"."shop_id" = "numbered"."shop_id" AND "workflows"."id" = "numbered"."id";
