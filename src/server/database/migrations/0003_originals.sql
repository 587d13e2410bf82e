CREATE TABLE "originals" (
	"passage_id" uuid PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"bytes" "bytea" NOT NULL
);
--> statement-breakpoint
ALTER TABLE "originals" ADD CONSTRAINT "originals_passage_id_passages_id_fk" FOREIGN KEY ("passage_id") REFERENCES "public"."passages"("id") ON DELETE cascade ON UPDATE no action;