CREATE TABLE "practice_sessions" (
	"id" uuid PRIMARY KEY NOT NULL,
	"passage_id" uuid,
	"figure" text,
	"started_at" timestamp with time zone NOT NULL,
	"record" jsonb NOT NULL,
	"staged" jsonb
);
--> statement-breakpoint
CREATE TABLE "practised" (
	"id" uuid PRIMARY KEY DEFAULT gen_random_uuid() NOT NULL,
	"passage_id" uuid,
	"figure" text,
	"sessions" integer NOT NULL,
	"states" jsonb NOT NULL,
	CONSTRAINT "practised_passage_id_unique" UNIQUE("passage_id"),
	CONSTRAINT "practised_figure_unique" UNIQUE("figure")
);
--> statement-breakpoint
ALTER TABLE "practice_sessions" ADD CONSTRAINT "practice_sessions_passage_id_passages_id_fk" FOREIGN KEY ("passage_id") REFERENCES "public"."passages"("id") ON DELETE cascade ON UPDATE cascade;--> statement-breakpoint
ALTER TABLE "practised" ADD CONSTRAINT "practised_passage_id_passages_id_fk" FOREIGN KEY ("passage_id") REFERENCES "public"."passages"("id") ON DELETE cascade ON UPDATE cascade;--> statement-breakpoint
CREATE INDEX "practice_by_passage" ON "practice_sessions" USING btree ("passage_id","started_at");