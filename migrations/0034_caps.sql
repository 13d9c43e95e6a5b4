DROP INDEX "ledger_days";--> statement-breakpoint
ALTER TABLE "shops" ADD COLUMN "caps" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
CREATE INDEX "mails_message" ON "mails" USING btree ("shop_id","message_id");--> statement-breakpoint
CREATE INDEX "ledger_days" ON "ledger" USING btree ("shop_id","at") WHERE kind in ('entered', 'ended', 'left', 'retired', 'sent', 'takenOut');