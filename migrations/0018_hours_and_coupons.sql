ALTER TABLE "messages" ADD COLUMN "hours" jsonb;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "hours" jsonb;--> statement-breakpoint
ALTER TABLE "runs" ADD COLUMN "owed" jsonb DEFAULT '[]'::jsonb NOT NULL;