ALTER TABLE "change" ADD COLUMN "records" integer DEFAULT 6 NOT NULL;--> statement-breakpoint
ALTER TABLE "live" ADD COLUMN "records" integer DEFAULT 6 NOT NULL;--> statement-breakpoint
ALTER TABLE "show" ADD COLUMN "records" integer DEFAULT 6 NOT NULL;