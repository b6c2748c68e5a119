-- Whoever has a plan open hears of what others change in it, on whichever server of this database: one place that no writer can forget.
CREATE FUNCTION tell_of_plan() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	PERFORM pg_notify('plans', json_build_object('plan', NEW.id, 'revision', NEW.revision)::text);
	RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION tell_of_recording() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	PERFORM pg_notify('plans', json_build_object('plan', coalesce(NEW.plan_id, OLD.plan_id))::text);
	RETURN NULL;
END $$;
--> statement-breakpoint
CREATE FUNCTION tell_of_line() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
	PERFORM pg_notify('plans', json_build_object('plan', plan_id)::text) FROM recordings WHERE id = NEW.recording_id;
	RETURN NULL;
END $$;
--> statement-breakpoint
CREATE TRIGGER tell_of_plan AFTER UPDATE OF revision ON plans
	FOR EACH ROW WHEN (NEW.revision <> OLD.revision) EXECUTE FUNCTION tell_of_plan();
--> statement-breakpoint
CREATE TRIGGER tell_of_recording_changed AFTER UPDATE ON recordings
	FOR EACH ROW WHEN ((NEW.state, NEW.deleted_at, NEW.generation, NEW.name, NEW.resolution)
		IS DISTINCT FROM (OLD.state, OLD.deleted_at, OLD.generation, OLD.name, OLD.resolution))
	EXECUTE FUNCTION tell_of_recording();
--> statement-breakpoint
CREATE TRIGGER tell_of_recording_gone AFTER DELETE ON recordings
	FOR EACH ROW EXECUTE FUNCTION tell_of_recording();
--> statement-breakpoint
CREATE TRIGGER tell_of_line AFTER UPDATE OF cut ON lines
	FOR EACH ROW WHEN (NEW.cut <> OLD.cut) EXECUTE FUNCTION tell_of_line();
