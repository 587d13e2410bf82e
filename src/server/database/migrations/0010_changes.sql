-- Whoever shows something of a library hears that it has changed: of whom, and what; of a passage, which one and its version.
CREATE FUNCTION "tell_change"() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
	changed record;
BEGIN
	IF TG_OP = 'DELETE' THEN changed := OLD; ELSE changed := NEW; END IF;
	IF TG_TABLE_NAME = 'passages' THEN
		IF changed."staged" IS NOT NULL THEN RETURN NULL; END IF;
		PERFORM pg_notify('rest_hand', json_build_object('owner', changed."owner", 'what', 'passage', 'id', changed."id", 'version', changed."version")::text);
	ELSE
		PERFORM pg_notify('rest_hand', json_build_object('owner', changed."owner", 'what', TG_ARGV[0])::text);
	END IF;
	RETURN NULL;
END
$$;--> statement-breakpoint
CREATE TRIGGER "passages_change" AFTER INSERT OR DELETE OR UPDATE OF "id", "version", "deleted_at", "staged" ON "passages" FOR EACH ROW EXECUTE FUNCTION "tell_change"();--> statement-breakpoint
CREATE TRIGGER "practice_change" AFTER INSERT OR DELETE OR UPDATE ON "practised" FOR EACH ROW EXECUTE FUNCTION "tell_change"('practice');--> statement-breakpoint
CREATE TRIGGER "instruments_change" AFTER INSERT OR DELETE OR UPDATE ON "instruments" FOR EACH ROW EXECUTE FUNCTION "tell_change"('setup');--> statement-breakpoint
CREATE TRIGGER "players_change" AFTER INSERT OR DELETE OR UPDATE ON "players" FOR EACH ROW EXECUTE FUNCTION "tell_change"('setup');
