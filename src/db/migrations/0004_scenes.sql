CREATE TABLE "effect" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "effect_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "palette" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"family" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "palette_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
ALTER TABLE "chase_step" ALTER COLUMN "scene_id" DROP NOT NULL;--> statement-breakpoint
ALTER TABLE "change" ADD COLUMN "blind" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "chase_step" ADD COLUMN "shown_chase_id" text;--> statement-breakpoint
ALTER TABLE "chase_step" ADD COLUMN "effect_id" text;--> statement-breakpoint
ALTER TABLE "chase_step" ADD COLUMN "values" jsonb;--> statement-breakpoint
ALTER TABLE "chase_step" ADD COLUMN "name" text;--> statement-breakpoint
ALTER TABLE "effect" ADD CONSTRAINT "effect_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "palette" ADD CONSTRAINT "palette_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chase_step" ADD CONSTRAINT "chase_step_show_id_effect_id_effect_show_id_id_fk" FOREIGN KEY ("show_id","effect_id") REFERENCES "public"."effect"("show_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chase_step" ADD CONSTRAINT "chase_step_shows_one" CHECK (num_nonnulls("chase_step"."scene_id", "chase_step"."shown_chase_id", "chase_step"."effect_id", "chase_step"."values") = 1);