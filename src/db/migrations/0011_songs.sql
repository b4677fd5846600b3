CREATE TABLE "setlist" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "setlist_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "song" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"blob" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "song_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
ALTER TABLE "setlist" ADD CONSTRAINT "setlist_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "song" ADD CONSTRAINT "song_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "song_blob" ON "song" USING btree ("blob");