CREATE TABLE "chunks" (
	"recording_id" text NOT NULL,
	"line" integer NOT NULL,
	"number" integer NOT NULL,
	"first_time" bigint NOT NULL,
	"last_time" bigint NOT NULL,
	"count" integer NOT NULL,
	"first_level" smallint NOT NULL,
	"last_level" smallint NOT NULL,
	"shortest" double precision,
	"packed" "bytea" NOT NULL,
	CONSTRAINT "chunks_recording_id_line_number_pk" PRIMARY KEY("recording_id","line","number")
);
--> statement-breakpoint
CREATE TABLE "done" (
	"name" text PRIMARY KEY NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "lines" (
	"recording_id" text NOT NULL,
	"number" integer NOT NULL,
	"name" text NOT NULL,
	"initial" smallint NOT NULL,
	"edges" bigint NOT NULL,
	"shortest" double precision,
	"slicing" jsonb,
	CONSTRAINT "lines_recording_id_number_pk" PRIMARY KEY("recording_id","number")
);
--> statement-breakpoint
CREATE TABLE "plans" (
	"id" text PRIMARY KEY NOT NULL,
	"revision" integer NOT NULL,
	"document" jsonb NOT NULL,
	"last_verdict" jsonb,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "recordings" (
	"id" text PRIMARY KEY NOT NULL,
	"plan_id" text NOT NULL,
	"name" text NOT NULL,
	"format" text NOT NULL,
	"bytes" bigint NOT NULL,
	"unit" text NOT NULL,
	"start_time" bigint NOT NULL,
	"end_time" bigint NOT NULL,
	"resolution" text NOT NULL,
	"notes" jsonb NOT NULL,
	"created_at" timestamp with time zone DEFAULT now() NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "revisions" (
	"plan_id" text NOT NULL,
	"number" integer NOT NULL,
	"kind" text NOT NULL,
	"merged" smallint NOT NULL,
	"step" jsonb NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "revisions_plan_id_number_pk" PRIMARY KEY("plan_id","number")
);
--> statement-breakpoint
ALTER TABLE "chunks" ADD CONSTRAINT "chunks_recording_id_recordings_id_fk" FOREIGN KEY ("recording_id") REFERENCES "public"."recordings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "lines" ADD CONSTRAINT "lines_recording_id_recordings_id_fk" FOREIGN KEY ("recording_id") REFERENCES "public"."recordings"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recordings" ADD CONSTRAINT "recordings_plan_id_plans_id_fk" FOREIGN KEY ("plan_id") REFERENCES "public"."plans"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "revisions" ADD CONSTRAINT "revisions_plan_id_plans_id_fk" FOREIGN KEY ("plan_id") REFERENCES "public"."plans"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "recordings_plan_id_index" ON "recordings" USING btree ("plan_id");