CREATE TABLE "shelf_plans" (
	"key" text PRIMARY KEY NOT NULL,
	"plan" text NOT NULL,
	"used_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE INDEX "shelf_plans_by_use" ON "shelf_plans" USING btree ("used_at");