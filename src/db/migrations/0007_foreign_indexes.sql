DROP INDEX "route_universe";--> statement-breakpoint
DROP INDEX "unit_patch";--> statement-breakpoint
CREATE INDEX "backdrop_picture" ON "backdrop" USING btree ("show_id","picture_id");--> statement-breakpoint
CREATE INDEX "chase_step_scene" ON "chase_step" USING btree ("show_id","scene_id");--> statement-breakpoint
CREATE INDEX "chase_step_effect" ON "chase_step" USING btree ("show_id","effect_id");--> statement-breakpoint
CREATE INDEX "group_member_unit" ON "group_member" USING btree ("show_id","unit_id");--> statement-breakpoint
CREATE INDEX "line_output" ON "line" USING btree ("show_id","output_id");--> statement-breakpoint
CREATE INDEX "line_unit_unit" ON "line_unit" USING btree ("show_id","unit_id");--> statement-breakpoint
CREATE INDEX "part_unit" ON "part" USING btree ("show_id","unit_id");--> statement-breakpoint
CREATE INDEX "route_output" ON "route" USING btree ("show_id","output_id");--> statement-breakpoint
CREATE INDEX "unit_profile" ON "unit" USING btree ("show_id","profile_id");