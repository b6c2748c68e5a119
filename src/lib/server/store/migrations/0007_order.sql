ALTER TABLE "plans" ALTER COLUMN "document" SET DATA TYPE json;--> statement-breakpoint
ALTER TABLE "revisions" ALTER COLUMN "step" SET DATA TYPE json;