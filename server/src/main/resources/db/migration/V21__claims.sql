-- Not only messages are claimed: files and ends of runs are, too. A reply is kept as it is written: jsonb refuses what
-- any text may have.
ALTER TABLE trigger_message RENAME TO trigger_claim;
ALTER TABLE trigger_claim RENAME COLUMN message TO thing;
ALTER TABLE trigger_claim ALTER COLUMN answer TYPE text;
