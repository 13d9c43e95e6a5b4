CREATE TABLE "import_before" (
	"shop_id" text NOT NULL,
	"import_id" text NOT NULL,
	"of" text NOT NULL,
	"id" text NOT NULL,
	"before" jsonb,
	CONSTRAINT "import_before_shop_id_import_id_of_id_pk" PRIMARY KEY("shop_id","import_id","of","id")
);
--> statement-breakpoint
CREATE TABLE "import_pieces" (
	"shop_id" text NOT NULL,
	"import_id" text NOT NULL,
	"place" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "import_pieces_shop_id_import_id_place_pk" PRIMARY KEY("shop_id","import_id","place")
);
--> statement-breakpoint
CREATE TABLE "import_refusals" (
	"shop_id" text NOT NULL,
	"import_id" text NOT NULL,
	"place" integer NOT NULL,
	"cells" jsonb NOT NULL,
	"problems" jsonb NOT NULL,
	CONSTRAINT "import_refusals_shop_id_import_id_place_pk" PRIMARY KEY("shop_id","import_id","place")
);
--> statement-breakpoint
CREATE TABLE "imports" (
	"shop_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"bytes" bigint NOT NULL,
	"kind" text NOT NULL,
	"mapping" jsonb NOT NULL,
	"format" jsonb NOT NULL,
	"state" text NOT NULL,
	"counts" jsonb NOT NULL,
	"error" text,
	"first_seq" bigint,
	"last_seq" bigint,
	"person" text NOT NULL,
	"created_at" bigint NOT NULL,
	"ended_at" bigint,
	CONSTRAINT "imports_shop_id_id_pk" PRIMARY KEY("shop_id","id")
);
