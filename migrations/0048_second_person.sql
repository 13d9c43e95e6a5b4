ALTER TABLE "shops" ADD COLUMN "second_person" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "workflows" ADD COLUMN "asked" jsonb;