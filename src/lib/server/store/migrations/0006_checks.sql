CREATE TABLE "checks" (
	"number" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "checks_number_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"plan_id" text NOT NULL,
	"revision" integer NOT NULL,
	"told" jsonb NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "checks" ADD CONSTRAINT "checks_plan_id_plans_id_fk" FOREIGN KEY ("plan_id") REFERENCES "public"."plans"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "checks_plan_id_index" ON "checks" USING btree ("plan_id");