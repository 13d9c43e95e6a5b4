ALTER TABLE "order_lines" ADD COLUMN "variant" text;--> statement-breakpoint
ALTER TABLE "order_lines" ADD COLUMN "url" text;--> statement-breakpoint
ALTER TABLE "order_lines" ADD COLUMN "image_url" text;