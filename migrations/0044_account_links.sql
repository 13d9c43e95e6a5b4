CREATE TABLE "account_links" (
	"token_hash" text PRIMARY KEY NOT NULL,
	"shop_id" text NOT NULL,
	"user_id" text NOT NULL,
	"kind" text NOT NULL,
	"created_at" bigint NOT NULL,
	"expires_at" bigint NOT NULL
);
--> statement-breakpoint
ALTER TABLE "sessions" ADD COLUMN "agent" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "account_links" ADD CONSTRAINT "account_links_shop_id_user_id_users_shop_id_id_fk" FOREIGN KEY ("shop_id","user_id") REFERENCES "public"."users"("shop_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "account_links_user" ON "account_links" USING btree ("shop_id","user_id");
--> statement-breakpoint
-- Who could do everything before can do so still: keys and erasing are the owners' now.
UPDATE "users" SET "role" = 'owner' WHERE "role" = 'marketer';
