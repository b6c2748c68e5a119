ALTER TABLE "parts" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "plans" ADD COLUMN "summary" jsonb;--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "arriving" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "revisions" ADD COLUMN "step_id" text;