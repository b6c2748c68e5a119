CREATE TABLE "pieces" (
	"recording_id" text NOT NULL,
	"number" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "pieces_recording_id_number_pk" PRIMARY KEY("recording_id","number")
);
--> statement-breakpoint
CREATE TABLE "samples" (
	"recording_id" text NOT NULL,
	"generation" integer NOT NULL,
	"line" integer NOT NULL,
	"number" integer NOT NULL,
	"first_time" bigint NOT NULL,
	"last_time" bigint NOT NULL,
	"least" double precision,
	"most" double precision,
	"bounds" "bytea" NOT NULL,
	"packed" "bytea" NOT NULL,
	CONSTRAINT "samples_recording_id_generation_line_number_pk" PRIMARY KEY("recording_id","generation","line","number")
);
--> statement-breakpoint
ALTER TABLE "chunks" ADD COLUMN "generation" integer DEFAULT 0 NOT NULL;
--> statement-breakpoint
ALTER TABLE "chunks" ADD COLUMN "marks" "bytea";
--> statement-breakpoint
ALTER TABLE "lines" ADD COLUMN "generation" integer DEFAULT 0 NOT NULL;
--> statement-breakpoint
ALTER TABLE "lines" ADD COLUMN "first_rise" bigint;
--> statement-breakpoint
ALTER TABLE "lines" ADD COLUMN "analogue" jsonb;
--> statement-breakpoint
ALTER TABLE "lines" ADD COLUMN "step" text;
--> statement-breakpoint
ALTER TABLE "lines" ADD COLUMN "raster" text;
--> statement-breakpoint
ALTER TABLE "lines" ADD COLUMN "cut" integer DEFAULT 0 NOT NULL;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "sha256" text;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "settings" jsonb DEFAULT '{}'::jsonb NOT NULL;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "step_from" text DEFAULT 'unit' NOT NULL;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "state" text DEFAULT 'ready' NOT NULL;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "progress" jsonb;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "trouble" jsonb;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "keep_file" boolean DEFAULT false NOT NULL;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "generation" integer DEFAULT 0 NOT NULL;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "attempts" integer DEFAULT 0 NOT NULL;
--> statement-breakpoint
ALTER TABLE "recordings" ADD COLUMN "claim" text;
--> statement-breakpoint
ALTER TABLE "chunks" DROP CONSTRAINT "chunks_recording_id_line_number_pk";
--> statement-breakpoint
ALTER TABLE "lines" DROP CONSTRAINT "lines_recording_id_number_pk";
--> statement-breakpoint
ALTER TABLE "chunks" ADD CONSTRAINT "chunks_recording_id_generation_line_number_pk" PRIMARY KEY("recording_id","generation","line","number");
--> statement-breakpoint
ALTER TABLE "lines" ADD CONSTRAINT "lines_recording_id_generation_number_pk" PRIMARY KEY("recording_id","generation","number");
--> statement-breakpoint
ALTER TABLE "pieces" ADD CONSTRAINT "pieces_recording_id_recordings_id_fk" FOREIGN KEY ("recording_id") REFERENCES "public"."recordings"("id") ON DELETE cascade ON UPDATE no action;
--> statement-breakpoint
ALTER TABLE "samples" ADD CONSTRAINT "samples_recording_id_recordings_id_fk" FOREIGN KEY ("recording_id") REFERENCES "public"."recordings"("id") ON DELETE cascade ON UPDATE no action;
--> statement-breakpoint
DELETE FROM "recordings" WHERE "arriving" IS NOT NULL;
--> statement-breakpoint
ALTER TABLE "pieces" ALTER COLUMN "bytes" SET STORAGE EXTERNAL;
--> statement-breakpoint
ALTER TABLE "samples" ALTER COLUMN "packed" SET STORAGE EXTERNAL;
--> statement-breakpoint
ALTER TABLE "chunks" ALTER COLUMN "packed" SET STORAGE EXTERNAL;
--> statement-breakpoint
CREATE INDEX "recordings_sha256_index" ON "recordings" ("sha256");