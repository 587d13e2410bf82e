ALTER TABLE "originals" DROP CONSTRAINT "originals_passage_id_passages_id_fk";
--> statement-breakpoint
ALTER TABLE "passages" ADD COLUMN "staged" jsonb;--> statement-breakpoint
ALTER TABLE "originals" ADD CONSTRAINT "originals_passage_id_passages_id_fk" FOREIGN KEY ("passage_id") REFERENCES "public"."passages"("id") ON DELETE cascade ON UPDATE cascade;--> statement-breakpoint
CREATE OR REPLACE FUNCTION "keep_ledger"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF TG_OP = 'DELETE' THEN
		IF OLD."staged" IS NULL THEN
			DELETE FROM "ledger" WHERE "id" = OLD."id";
		END IF;
		RETURN OLD;
	END IF;
	IF NEW."staged" IS NULL AND (TG_OP = 'INSERT' OR NEW."document" IS DISTINCT FROM OLD."document" OR NEW."title" IS DISTINCT FROM OLD."title") THEN
		INSERT INTO "ledger" VALUES (NEW."id", NEW."title", md5(NEW."document"))
		ON CONFLICT ("id") DO UPDATE SET "title" = excluded."title", "checksum" = excluded."checksum";
	END IF;
	RETURN NEW;
END
$$;
