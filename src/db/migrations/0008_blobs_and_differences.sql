CREATE TABLE "blob" (
	"hash" text PRIMARY KEY NOT NULL,
	"type" text NOT NULL,
	"bytes" bigint NOT NULL,
	"touched_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "blob_history" (
	"show_id" text NOT NULL,
	"revision" integer NOT NULL,
	"hash" text NOT NULL,
	CONSTRAINT "blob_history_show_id_revision_hash_pk" PRIMARY KEY("show_id","revision","hash")
);
--> statement-breakpoint
CREATE TABLE "blob_use" (
	"show_id" text NOT NULL,
	"record_id" text NOT NULL,
	"hash" text NOT NULL,
	CONSTRAINT "blob_use_show_id_record_id_hash_pk" PRIMARY KEY("show_id","record_id","hash")
);
--> statement-breakpoint
ALTER TABLE "change" ALTER COLUMN "forward" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "change" ALTER COLUMN "reverse" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "picture" ALTER COLUMN "data" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "change" ADD COLUMN "difference" jsonb;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "type" text;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "bytes" integer;--> statement-breakpoint
ALTER TABLE "picture" ADD COLUMN "blob" text;--> statement-breakpoint
ALTER TABLE "blob_history" ADD CONSTRAINT "blob_history_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blob_history" ADD CONSTRAINT "blob_history_hash_blob_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blob"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blob_history" ADD CONSTRAINT "blob_history_show_id_revision_change_show_id_revision_fk" FOREIGN KEY ("show_id","revision") REFERENCES "public"."change"("show_id","revision") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blob_use" ADD CONSTRAINT "blob_use_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "blob_use" ADD CONSTRAINT "blob_use_hash_blob_hash_fk" FOREIGN KEY ("hash") REFERENCES "public"."blob"("hash") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "blob_history_hash" ON "blob_history" USING btree ("hash");--> statement-breakpoint
CREATE INDEX "blob_use_hash" ON "blob_use" USING btree ("hash");