UPDATE "events" SET "kind" = 'hard_bounce' WHERE "kind" = 'bounce';
