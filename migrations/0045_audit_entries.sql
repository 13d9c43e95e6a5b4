CREATE TABLE "audit_entries" (
	"shop_id" text NOT NULL,
	"id" bigint GENERATED ALWAYS AS IDENTITY (sequence name "audit_entries_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"at" bigint NOT NULL,
	"user_id" text NOT NULL,
	"person" text NOT NULL,
	"operation" text NOT NULL,
	"did" text NOT NULL,
	"about" jsonb NOT NULL,
	"before" jsonb,
	"after" jsonb,
	CONSTRAINT "audit_entries_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
--> statement-breakpoint
CREATE FUNCTION "audit_stays"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	-- A shop that is removed as a whole takes it along.
	IF TG_OP = 'DELETE' AND current_setting('yomble.removes_shop', true) = OLD.shop_id THEN RETURN OLD; END IF;
	RAISE EXCEPTION 'What was put on record stays as it is';
END $$;--> statement-breakpoint
CREATE TRIGGER "audit_stays" BEFORE UPDATE OR DELETE ON "audit_entries" FOR EACH ROW EXECUTE FUNCTION "audit_stays"();
