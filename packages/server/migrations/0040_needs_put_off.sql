CREATE TABLE "needs_put_off" (
	"key" text PRIMARY KEY NOT NULL,
	"until" text NOT NULL
);
