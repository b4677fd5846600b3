CREATE TABLE "lane" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "lane_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "variant" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "variant_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
ALTER TABLE "lane" ADD CONSTRAINT "lane_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "variant" ADD CONSTRAINT "variant_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;