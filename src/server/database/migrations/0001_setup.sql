ALTER TABLE "instruments" ADD COLUMN "named" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "instruments" ADD COLUMN "is_default" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "named" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "players" ADD COLUMN "is_default" boolean DEFAULT false NOT NULL;