ALTER TABLE "connections" ADD COLUMN "pull" jsonb;--> statement-breakpoint
ALTER TABLE "connections" ADD COLUMN "next_pull_at" bigint;--> statement-breakpoint
ALTER TABLE "connections" ADD COLUMN "pull_state" jsonb;