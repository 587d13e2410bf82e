CREATE TABLE "gifts" (
	"owner" uuid NOT NULL,
	"id" uuid DEFAULT gen_random_uuid() NOT NULL,
	"passage_id" uuid NOT NULL,
	"teacher" uuid,
	"teacher_name" text NOT NULL,
	"origin" uuid NOT NULL,
	"sum" text NOT NULL,
	"note" text NOT NULL,
	"drills" jsonb NOT NULL,
	"given_at" timestamp with time zone DEFAULT now() NOT NULL,
	"offer" text,
	CONSTRAINT "gifts_owner_id_pk" PRIMARY KEY("owner","id"),
	CONSTRAINT "gifts_once" UNIQUE("owner","teacher","origin")
);
--> statement-breakpoint
CREATE TABLE "links" (
	"owner" uuid NOT NULL,
	"id" uuid DEFAULT gen_random_uuid() NOT NULL,
	"passage_id" uuid NOT NULL,
	"secret" text NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "links_owner_id_pk" PRIMARY KEY("owner","id"),
	CONSTRAINT "links_secret_unique" UNIQUE("secret")
);
--> statement-breakpoint
CREATE TABLE "teachings" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"teacher" uuid NOT NULL,
	"student" uuid NOT NULL,
	"shows" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "teachings_once" UNIQUE("teacher","student")
);
--> statement-breakpoint
ALTER TABLE "invitations" ADD COLUMN "as_student" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "gifts" ADD CONSTRAINT "gifts_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gifts" ADD CONSTRAINT "gifts_teacher_people_id_fk" FOREIGN KEY ("teacher") REFERENCES "public"."people"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "gifts" ADD CONSTRAINT "gifts_owner_passage_id_passages_owner_id_fk" FOREIGN KEY ("owner","passage_id") REFERENCES "public"."passages"("owner","id") ON DELETE cascade ON UPDATE cascade;--> statement-breakpoint
ALTER TABLE "links" ADD CONSTRAINT "links_owner_people_id_fk" FOREIGN KEY ("owner") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "links" ADD CONSTRAINT "links_owner_passage_id_passages_owner_id_fk" FOREIGN KEY ("owner","passage_id") REFERENCES "public"."passages"("owner","id") ON DELETE cascade ON UPDATE cascade;--> statement-breakpoint
ALTER TABLE "teachings" ADD CONSTRAINT "teachings_teacher_people_id_fk" FOREIGN KEY ("teacher") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "teachings" ADD CONSTRAINT "teachings_student_people_id_fk" FOREIGN KEY ("student") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "gifts_by_passage" ON "gifts" USING btree ("owner","passage_id");--> statement-breakpoint
CREATE INDEX "gifts_by_teacher" ON "gifts" USING btree ("teacher");--> statement-breakpoint
CREATE INDEX "links_by_passage" ON "links" USING btree ("owner","passage_id");--> statement-breakpoint
CREATE INDEX "teachings_by_student" ON "teachings" USING btree ("student");--> statement-breakpoint
CREATE TRIGGER "gifts_change" AFTER INSERT OR DELETE OR UPDATE ON "gifts" FOR EACH ROW EXECUTE FUNCTION "tell_change"('teaching');--> statement-breakpoint
CREATE TRIGGER "links_change" AFTER INSERT OR DELETE ON "links" FOR EACH ROW EXECUTE FUNCTION "tell_change"('teaching');--> statement-breakpoint
-- Both of them hear of it.
CREATE FUNCTION "tell_teaching"() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE
	changed record;
BEGIN
	IF TG_OP = 'DELETE' THEN changed := OLD; ELSE changed := NEW; END IF;
	PERFORM pg_notify('rest_hand', json_build_object('owner', changed."teacher", 'what', 'teaching')::text);
	PERFORM pg_notify('rest_hand', json_build_object('owner', changed."student", 'what', 'teaching')::text);
	RETURN NULL;
END
$$;--> statement-breakpoint
CREATE TRIGGER "teachings_change" AFTER INSERT OR DELETE OR UPDATE ON "teachings" FOR EACH ROW EXECUTE FUNCTION "tell_teaching"();
