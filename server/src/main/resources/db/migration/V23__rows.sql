-- Up to which value of a rising column a trigger has taken rows; all above is looked at again.
CREATE TABLE trigger_rows (
  trigger bigint PRIMARY KEY REFERENCES flow_trigger ON DELETE CASCADE,
  rising text NOT NULL,
  last text,
  at timestamptz NOT NULL DEFAULT now()
);
