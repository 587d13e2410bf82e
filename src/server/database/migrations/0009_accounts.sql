CREATE TABLE "attempts" (
	"key" text PRIMARY KEY NOT NULL,
	"points" integer NOT NULL,
	"expire" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "invitations" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"by" uuid NOT NULL,
	"secret" text NOT NULL,
	"note" text NOT NULL,
	"may_invite" boolean NOT NULL,
	"expires_at" timestamp with time zone NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "invitations_secret_unique" UNIQUE("secret")
);
--> statement-breakpoint
CREATE TABLE "sign_ins" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"person" uuid NOT NULL,
	"secret" text NOT NULL,
	"before" text,
	"agent" text NOT NULL,
	"renewed_at" timestamp with time zone DEFAULT now() NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "sign_ins_secret_unique" UNIQUE("secret"),
	CONSTRAINT "sign_ins_before_unique" UNIQUE("before")
);
--> statement-breakpoint
ALTER TABLE "people" DROP CONSTRAINT "people_name_unique";--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "passphrase" text;--> statement-breakpoint
ALTER TABLE "people" ADD COLUMN "may_invite" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "invitations" ADD CONSTRAINT "invitations_by_people_id_fk" FOREIGN KEY ("by") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "sign_ins" ADD CONSTRAINT "sign_ins_person_people_id_fk" FOREIGN KEY ("person") REFERENCES "public"."people"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "invitations_by_person" ON "invitations" USING btree ("by");--> statement-breakpoint
CREATE INDEX "sign_ins_by_person" ON "sign_ins" USING btree ("person");--> statement-breakpoint
CREATE INDEX "sign_ins_by_seen" ON "sign_ins" USING btree ("seen_at");--> statement-breakpoint
CREATE UNIQUE INDEX "people_by_name" ON "people" USING btree (lower("name"));