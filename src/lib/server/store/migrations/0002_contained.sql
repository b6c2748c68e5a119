ALTER TABLE "parts" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "plans" ADD COLUMN "summary" jsonb;--> statement-breakpoint
UPDATE "plans" SET "summary" = jsonb_build_object('name', coalesce("document" ->> 'name', ''), 'part', '', 'aims', 0, 'faults', 0, 'warnings', 0, 'wave', NULL, 'revision', 0, 'build', '');--> statement-breakpoint
ALTER TABLE "plans" ALTER COLUMN "summary" SET NOT NULL;--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "arriving" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "step_id" text;