CREATE TABLE "accounts" (
	"id" text PRIMARY KEY NOT NULL,
	"email" text NOT NULL,
	"password_hash" text NOT NULL,
	"second_factor" jsonb,
	"last_shop_id" text
);
--> statement-breakpoint
-- Each had an account for their one shop; the address was unique over all of them.
INSERT INTO "accounts" ("id", "email", "password_hash", "second_factor") SELECT "id", "email", "password_hash", "second_factor" FROM "users";--> statement-breakpoint
CREATE UNIQUE INDEX "accounts_email" ON "accounts" USING btree ("email");--> statement-breakpoint
DROP INDEX "users_email";--> statement-breakpoint
-- A server of the version before goes on for whoever is signed in, since the columns that it reads are still there; to sign in anew
-- takes a server of this version. A migration of the next version drops them.
ALTER TABLE "users" ALTER COLUMN "email" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "users" ALTER COLUMN "password_hash" DROP NOT NULL;--> statement-breakpoint
UPDATE "users" SET "password_hash" = NULL, "second_factor" = NULL;--> statement-breakpoint
ALTER TABLE "users" ADD CONSTRAINT "users_id_accounts_id_fk" FOREIGN KEY ("id") REFERENCES "public"."accounts"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "users_account" ON "users" USING btree ("id");--> statement-breakpoint
DROP INDEX "account_links_user";--> statement-breakpoint
DROP INDEX "sessions_user";--> statement-breakpoint
CREATE INDEX "account_links_user" ON "account_links" USING btree ("user_id");--> statement-breakpoint
CREATE INDEX "sessions_user" ON "sessions" USING btree ("user_id");
