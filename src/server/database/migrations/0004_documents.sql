ALTER TABLE "passages" ALTER COLUMN "document" SET DATA TYPE text;--> statement-breakpoint
ALTER TABLE "passages" ALTER COLUMN "document" SET STORAGE EXTERNAL;--> statement-breakpoint
ALTER TABLE "originals" ALTER COLUMN "bytes" SET STORAGE EXTERNAL;--> statement-breakpoint
ALTER TABLE "passages" ADD COLUMN "card" jsonb;--> statement-breakpoint
UPDATE "passages" SET "card" = jsonb_build_object(
	'tags', coalesce("document"::jsonb -> 'tags', '[]'::jsonb),
	'tempo', coalesce("document"::jsonb -> 'tempo', '0'::jsonb),
	'goalTempo', "document"::jsonb -> 'goalTempo',
	'bars', CASE jsonb_typeof("document"::jsonb -> 'bars') WHEN 'array' THEN jsonb_array_length("document"::jsonb -> 'bars') ELSE 0 END
);--> statement-breakpoint
ALTER TABLE "passages" ALTER COLUMN "card" SET NOT NULL;--> statement-breakpoint
CREATE TABLE "ledger" (
	"id" uuid PRIMARY KEY NOT NULL,
	"title" text NOT NULL,
	"checksum" text NOT NULL
);
--> statement-breakpoint
INSERT INTO "ledger" SELECT "id", "title", md5("document") FROM "passages";--> statement-breakpoint
CREATE FUNCTION "keep_ledger"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF TG_OP = 'DELETE' THEN
		DELETE FROM "ledger" WHERE "id" = OLD."id";
		RETURN OLD;
	END IF;
	IF TG_OP = 'INSERT' OR NEW."document" IS DISTINCT FROM OLD."document" OR NEW."title" IS DISTINCT FROM OLD."title" THEN
		INSERT INTO "ledger" VALUES (NEW."id", NEW."title", md5(NEW."document"))
		ON CONFLICT ("id") DO UPDATE SET "title" = excluded."title", "checksum" = excluded."checksum";
	END IF;
	RETURN NEW;
END
$$;--> statement-breakpoint
CREATE TRIGGER "passages_ledger" AFTER INSERT OR DELETE OR UPDATE OF "document", "title" ON "passages" FOR EACH ROW EXECUTE FUNCTION "keep_ledger"();
--> statement-breakpoint
CREATE TABLE "pulse" (
	"id" integer PRIMARY KEY NOT NULL,
	"at" timestamp with time zone NOT NULL
);
