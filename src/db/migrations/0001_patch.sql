CREATE TABLE "area" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "area_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "line" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"output_id" text,
	"data" jsonb NOT NULL,
	CONSTRAINT "line_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "line_unit" (
	"show_id" text NOT NULL,
	"line_id" text NOT NULL,
	"position" integer NOT NULL,
	"unit_id" text NOT NULL,
	CONSTRAINT "line_unit_show_id_line_id_position_pk" PRIMARY KEY("show_id","line_id","position")
);
--> statement-breakpoint
ALTER TABLE "unit_group" ADD COLUMN "data" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "area" ADD CONSTRAINT "area_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "line" ADD CONSTRAINT "line_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "line" ADD CONSTRAINT "line_show_id_output_id_output_show_id_id_fk" FOREIGN KEY ("show_id","output_id") REFERENCES "public"."output"("show_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "line_unit" ADD CONSTRAINT "line_unit_show_id_line_id_line_show_id_id_fk" FOREIGN KEY ("show_id","line_id") REFERENCES "public"."line"("show_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "line_unit" ADD CONSTRAINT "line_unit_show_id_unit_id_unit_show_id_id_fk" FOREIGN KEY ("show_id","unit_id") REFERENCES "public"."unit"("show_id","id") ON DELETE no action ON UPDATE no action;