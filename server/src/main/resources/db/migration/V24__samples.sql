-- What was tried and is worth trying again, beside the samples that flows have.
CREATE TABLE trigger_sample (
  trigger bigint NOT NULL REFERENCES flow_trigger ON DELETE CASCADE,
  name text NOT NULL,
  sample text NOT NULL,
  made_by text NOT NULL,
  made_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (trigger, name)
);
