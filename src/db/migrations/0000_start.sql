CREATE TABLE "change" (
	"show_id" text NOT NULL,
	"revision" integer NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"author" text NOT NULL,
	"action" text NOT NULL,
	"target" integer,
	"label" text NOT NULL,
	"forward" jsonb NOT NULL,
	"reverse" jsonb NOT NULL,
	CONSTRAINT "change_show_id_revision_pk" PRIMARY KEY("show_id","revision"),
	CONSTRAINT "change_action" CHECK ("change"."action" in ('edit', 'undo', 'redo'))
);
--> statement-breakpoint
CREATE TABLE "chase" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "chase_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "chase_step" (
	"show_id" text NOT NULL,
	"chase_id" text NOT NULL,
	"position" integer NOT NULL,
	"scene_id" text NOT NULL,
	"fade" double precision,
	"hold" double precision,
	CONSTRAINT "chase_step_show_id_chase_id_position_pk" PRIMARY KEY("show_id","chase_id","position")
);
--> statement-breakpoint
CREATE TABLE "unit_group" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	CONSTRAINT "unit_group_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "group_member" (
	"show_id" text NOT NULL,
	"group_id" text NOT NULL,
	"position" integer NOT NULL,
	"unit_id" text NOT NULL,
	CONSTRAINT "group_member_show_id_group_id_position_pk" PRIMARY KEY("show_id","group_id","position")
);
--> statement-breakpoint
CREATE TABLE "live" (
	"show_id" text PRIMARY KEY NOT NULL,
	"data" jsonb NOT NULL,
	"saved_at" bigint NOT NULL
);
--> statement-breakpoint
CREATE TABLE "output" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"name" text NOT NULL,
	"protocol" text NOT NULL,
	"enabled" boolean NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "output_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "profile" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"maker" text NOT NULL,
	"model" text NOT NULL,
	"fixture_kind" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "profile_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "route" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"universe" integer NOT NULL,
	"output_id" text NOT NULL,
	"wire_universe" integer NOT NULL,
	"enabled" boolean NOT NULL,
	CONSTRAINT "route_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "scene" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"data" jsonb NOT NULL,
	CONSTRAINT "scene_show_id_id_pk" PRIMARY KEY("show_id","id")
);
--> statement-breakpoint
CREATE TABLE "scene_unit" (
	"show_id" text NOT NULL,
	"scene_id" text NOT NULL,
	"unit_id" text NOT NULL,
	"values" jsonb NOT NULL,
	CONSTRAINT "scene_unit_show_id_scene_id_unit_id_pk" PRIMARY KEY("show_id","scene_id","unit_id")
);
--> statement-breakpoint
CREATE TABLE "setting" (
	"key" text PRIMARY KEY NOT NULL,
	"value" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "show" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"revision" integer DEFAULT 0 NOT NULL,
	"data" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "unit" (
	"show_id" text NOT NULL,
	"id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"profile_id" text NOT NULL,
	"mode" text NOT NULL,
	"universe" integer,
	"address" integer,
	"data" jsonb NOT NULL,
	CONSTRAINT "unit_show_id_id_pk" PRIMARY KEY("show_id","id"),
	CONSTRAINT "unit_address" CHECK ("unit"."address" between 1 and 512),
	CONSTRAINT "unit_universe" CHECK ("unit"."universe" between 1 and 63999),
	CONSTRAINT "unit_patch_whole" CHECK (("unit"."universe" is null) = ("unit"."address" is null))
);
--> statement-breakpoint
ALTER TABLE "change" ADD CONSTRAINT "change_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chase" ADD CONSTRAINT "chase_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chase_step" ADD CONSTRAINT "chase_step_show_id_chase_id_chase_show_id_id_fk" FOREIGN KEY ("show_id","chase_id") REFERENCES "public"."chase"("show_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "chase_step" ADD CONSTRAINT "chase_step_show_id_scene_id_scene_show_id_id_fk" FOREIGN KEY ("show_id","scene_id") REFERENCES "public"."scene"("show_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "unit_group" ADD CONSTRAINT "unit_group_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "group_member" ADD CONSTRAINT "group_member_show_id_group_id_unit_group_show_id_id_fk" FOREIGN KEY ("show_id","group_id") REFERENCES "public"."unit_group"("show_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "group_member" ADD CONSTRAINT "group_member_show_id_unit_id_unit_show_id_id_fk" FOREIGN KEY ("show_id","unit_id") REFERENCES "public"."unit"("show_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "live" ADD CONSTRAINT "live_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "output" ADD CONSTRAINT "output_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "profile" ADD CONSTRAINT "profile_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "route" ADD CONSTRAINT "route_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "route" ADD CONSTRAINT "route_show_id_output_id_output_show_id_id_fk" FOREIGN KEY ("show_id","output_id") REFERENCES "public"."output"("show_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "scene" ADD CONSTRAINT "scene_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "scene_unit" ADD CONSTRAINT "scene_unit_show_id_scene_id_scene_show_id_id_fk" FOREIGN KEY ("show_id","scene_id") REFERENCES "public"."scene"("show_id","id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "scene_unit" ADD CONSTRAINT "scene_unit_show_id_unit_id_unit_show_id_id_fk" FOREIGN KEY ("show_id","unit_id") REFERENCES "public"."unit"("show_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "unit" ADD CONSTRAINT "unit_show_id_show_id_fk" FOREIGN KEY ("show_id") REFERENCES "public"."show"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "unit" ADD CONSTRAINT "unit_show_id_profile_id_profile_show_id_id_fk" FOREIGN KEY ("show_id","profile_id") REFERENCES "public"."profile"("show_id","id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "route_universe" ON "route" USING btree ("show_id","universe");--> statement-breakpoint
CREATE INDEX "unit_patch" ON "unit" USING btree ("show_id","universe","address");