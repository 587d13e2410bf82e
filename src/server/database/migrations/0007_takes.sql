-- Sessions have takes; those from before had none.
UPDATE "practice_sessions" SET "record" = "record" || '{"takes": []}'::jsonb WHERE NOT jsonb_exists("record", 'takes');
