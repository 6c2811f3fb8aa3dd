-- What was written last, for steps that leave out rows that are as they were: digests, by target and key.
CREATE TABLE last_written (
  target text NOT NULL,
  environment text NOT NULL,
  key bytea NOT NULL,
  content bytea NOT NULL,
  run bigint NOT NULL,
  record bigint NOT NULL,
  PRIMARY KEY (target, environment, key)
);
ALTER TABLE run ADD COLUMN left_out bigint NOT NULL DEFAULT 0;
