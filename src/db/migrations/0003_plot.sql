CREATE TABLE "backdrop" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"picture_id" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "backdrop_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "part" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"unit_id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "part_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "picture" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"width_px" integer NOT NULL,
	"height_px" integer NOT NULL,
	"data" text NOT NULL,
	CONSTRAINT "picture_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
ALTER TABLE "scene_unit" DROP CONSTRAINT "scene_unit_show_id_unit_id_unit_show_id_id_fk";
--> statement-breakpoint
ALTER TABLE "backdrop" ADD CONSTRAINT "backdrop_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "backdrop" ADD CONSTRAINT "backdrop_show_id_picture_id_picture_show_id_id_fk" FOREIGN KEY ("show_id","picture_id") REFERENCES "public"."picture"("show_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part" ADD CONSTRAINT "part_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "part" ADD CONSTRAINT "part_show_id_unit_id_unit_show_id_id_fk" FOREIGN KEY ("show_id","unit_id") REFERENCES "public"."unit"("show_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "picture" ADD CONSTRAINT "picture_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;