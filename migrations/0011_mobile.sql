ALTER TABLE "customers" ADD COLUMN "mobile" text;--> statement-breakpoint
UPDATE "customers" SET "mobile" = "phone" WHERE "phone" ~ '^\+[1-9][0-9]{6,14}$';
