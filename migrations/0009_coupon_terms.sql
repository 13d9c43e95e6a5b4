DROP INDEX "coupons_once_per_step";--> statement-breakpoint
ALTER TABLE "coupons" DROP CONSTRAINT "coupons_shop_id_code_pk";--> statement-breakpoint
ALTER TABLE "coupons" ADD CONSTRAINT "coupons_shop_id_run_id_step_pk" PRIMARY KEY("shop_id","run_id","step");--> statement-breakpoint
ALTER TABLE "coupons" ADD COLUMN "terms" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "coupons" ADD COLUMN "shared" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE UNIQUE INDEX "coupons_own_code" ON "coupons" USING btree ("shop_id","code") WHERE not shared;--> statement-breakpoint
CREATE INDEX "coupons_code" ON "coupons" USING btree ("shop_id","code");--> statement-breakpoint
CREATE INDEX "coupons_issued" ON "coupons" USING btree ("shop_id","issued_at");