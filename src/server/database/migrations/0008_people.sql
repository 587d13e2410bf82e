CREATE TABLE "people" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"name" text NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "people_name_unique" UNIQUE("name")
);
--> statement-breakpoint
-- Who plays on a machine of their own, without a login: what was here before is theirs.
INSERT INTO "people" ("id", "name") VALUES ('00000000-0000-4000-8000-000000000001', 'player');
--> statement-breakpoint
ALTER TABLE "originals" DROP CONSTRAINT "originals_passage_id_passages_id_fk";--> statement-breakpoint
ALTER TABLE "practice_sessions" DROP CONSTRAINT "practice_sessions_passage_id_passages_id_fk";--> statement-breakpoint
ALTER TABLE "practised" DROP CONSTRAINT "practised_passage_id_passages_id_fk";--> statement-breakpoint
ALTER TABLE "passages" DROP CONSTRAINT "passages_instrument_id_instruments_id_fk";--> statement-breakpoint
ALTER TABLE "passages" DROP CONSTRAINT "passages_player_id_players_id_fk";--> statement-breakpoint
ALTER TABLE "instruments" DROP CONSTRAINT "instruments_canonical_unique";--> statement-breakpoint
ALTER TABLE "players" DROP CONSTRAINT "players_canonical_unique";--> statement-breakpoint
ALTER TABLE "practised" DROP CONSTRAINT "practised_passage_id_unique";--> statement-breakpoint
ALTER TABLE "practised" DROP CONSTRAINT "practised_figure_unique";--> statement-breakpoint
ALTER TABLE "instruments" DROP CONSTRAINT "instruments_pkey";--> statement-breakpoint
ALTER TABLE "players" DROP CONSTRAINT "players_pkey";--> statement-breakpoint
ALTER TABLE "passages" DROP CONSTRAINT "passages_pkey";--> statement-breakpoint
ALTER TABLE "ledger" DROP CONSTRAINT "ledger_pkey";--> statement-breakpoint
ALTER TABLE "originals" DROP CONSTRAINT "originals_pkey";--> statement-breakpoint
ALTER TABLE "practice_sessions" DROP CONSTRAINT "practice_sessions_pkey";--> statement-breakpoint
DROP INDEX "passages_by_update";--> statement-breakpoint
DROP INDEX "practice_by_passage";--> statement-breakpoint
ALTER TABLE "instruments" ADD COLUMN "owner" uuid NOT NULL DEFAULT '00000000-0000-4000-8000-000000000001';--> statement-breakpoint
ALTER TABLE "instruments" ALTER COLUMN "owner" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "owner" uuid NOT NULL DEFAULT '00000000-0000-4000-8000-000000000001';--> statement-breakpoint
ALTER TABLE "players" ALTER COLUMN "owner" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "passages" ADD COLUMN "owner" uuid NOT NULL DEFAULT '00000000-0000-4000-8000-000000000001';--> statement-breakpoint
ALTER TABLE "passages" ALTER COLUMN "owner" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "ledger" ADD COLUMN "owner" uuid NOT NULL DEFAULT '00000000-0000-4000-8000-000000000001';--> statement-breakpoint
ALTER TABLE "ledger" ALTER COLUMN "owner" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "originals" ADD COLUMN "owner" uuid NOT NULL DEFAULT '00000000-0000-4000-8000-000000000001';--> statement-breakpoint
ALTER TABLE "originals" ALTER COLUMN "owner" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "practice_sessions" ADD COLUMN "owner" uuid NOT NULL DEFAULT '00000000-0000-4000-8000-000000000001';--> statement-breakpoint
ALTER TABLE "practice_sessions" ALTER COLUMN "owner" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "practised" ADD COLUMN "owner" uuid NOT NULL DEFAULT '00000000-0000-4000-8000-000000000001';--> statement-breakpoint
ALTER TABLE "practised" ALTER COLUMN "owner" DROP DEFAULT;--> statement-breakpoint
ALTER TABLE "instruments" ADD CONSTRAINT "instruments_owner_id_pk" PRIMARY KEY("owner","id");--> statement-breakpoint
ALTER TABLE "players" ADD CONSTRAINT "players_owner_id_pk" PRIMARY KEY("owner","id");--> statement-breakpoint
ALTER TABLE "passages" ADD CONSTRAINT "passages_owner_id_pk" PRIMARY KEY("owner","id");--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_owner_id_pk" PRIMARY KEY("owner","id");--> statement-breakpoint
ALTER TABLE "originals" ADD CONSTRAINT "originals_owner_passage_id_pk" PRIMARY KEY("owner","passage_id");--> statement-breakpoint
ALTER TABLE "practice_sessions" ADD CONSTRAINT "practice_sessions_owner_id_pk" PRIMARY KEY("owner","id");--> statement-breakpoint
ALTER TABLE "instruments" ADD CONSTRAINT "instruments_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "players" ADD CONSTRAINT "players_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "passages" ADD CONSTRAINT "passages_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "ledger" ADD CONSTRAINT "ledger_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "originals" ADD CONSTRAINT "originals_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "practice_sessions" ADD CONSTRAINT "practice_sessions_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "practised" ADD CONSTRAINT "practised_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "passages" ADD CONSTRAINT "passages_owner_instrument_id_instruments_owner_id_fk" FOREIGN KEY ("owner","instrument_id") REFERENCES "public"."instruments"("owner","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "passages" ADD CONSTRAINT "passages_owner_player_id_players_owner_id_fk" FOREIGN KEY ("owner","player_id") REFERENCES "public"."players"("owner","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "originals" ADD CONSTRAINT "originals_owner_passage_id_passages_owner_id_fk" FOREIGN KEY ("owner","passage_id") REFERENCES "public"."passages"("owner","id") ON DELETE cascade ON UPDATE cascade;--> statement-breakpoint
ALTER TABLE "practice_sessions" ADD CONSTRAINT "practice_sessions_owner_passage_id_passages_owner_id_fk" FOREIGN KEY ("owner","passage_id") REFERENCES "public"."passages"("owner","id") ON DELETE cascade ON UPDATE cascade;--> statement-breakpoint
ALTER TABLE "practised" ADD CONSTRAINT "practised_owner_passage_id_passages_owner_id_fk" FOREIGN KEY ("owner","passage_id") REFERENCES "public"."passages"("owner","id") ON DELETE cascade ON UPDATE cascade;--> statement-breakpoint
CREATE INDEX "passages_by_update" ON "passages" USING btree ("owner","deleted_at","updated_at");--> statement-breakpoint
CREATE INDEX "passages_by_instrument" ON "passages" USING btree ("owner","instrument_id");--> statement-breakpoint
CREATE INDEX "passages_by_player" ON "passages" USING btree ("owner","player_id");--> statement-breakpoint
CREATE INDEX "practice_by_passage" ON "practice_sessions" USING btree ("owner","passage_id","started_at");--> statement-breakpoint
CREATE INDEX "practice_by_time" ON "practice_sessions" USING btree ("owner","started_at");--> statement-breakpoint
ALTER TABLE "instruments" ADD CONSTRAINT "instruments_by_value" UNIQUE("owner","canonical");--> statement-breakpoint
ALTER TABLE "players" ADD CONSTRAINT "players_by_value" UNIQUE("owner","canonical");--> statement-breakpoint
ALTER TABLE "practised" ADD CONSTRAINT "practised_by_passage" UNIQUE("owner","passage_id");--> statement-breakpoint
ALTER TABLE "practised" ADD CONSTRAINT "practised_by_figure" UNIQUE("owner","figure");--> statement-breakpoint
CREATE OR REPLACE FUNCTION "keep_ledger"() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	IF TG_OP = 'DELETE' THEN
		IF OLD."staged" IS NULL THEN
			DELETE FROM "ledger" WHERE "owner" = OLD."owner" AND "id" = OLD."id";
		END IF;
		RETURN OLD;
	END IF;
	IF NEW."staged" IS NULL AND (TG_OP = 'INSERT' OR NEW."document" IS DISTINCT FROM OLD."document" OR NEW."title" IS DISTINCT FROM OLD."title") THEN
		INSERT INTO "ledger" ("owner", "id", "title", "checksum") VALUES (NEW."owner", NEW."id", NEW."title", md5(NEW."document"))
		ON CONFLICT ("owner", "id") DO UPDATE SET "title" = excluded."title", "checksum" = excluded."checksum";
	END IF;
	RETURN NEW;
END
$$;

