ALTER TABLE "runs" ADD COLUMN "event_seq" bigint;--> statement-breakpoint
UPDATE "runs" SET "event_seq" = substring("occasion" from '^event:(\d+)')::bigint WHERE "occasion" ~ '^event:\d+';
