-- Connections to brokers.
ALTER TABLE connection DROP CONSTRAINT connection_kind_check;
ALTER TABLE connection ADD CHECK (kind IN ('soap', 'database', 'queue'));

-- Messages that a flow took of a queue: a message is worked on by one record, however often it is delivered.
CREATE TABLE trigger_message (
  trigger bigint NOT NULL REFERENCES flow_trigger ON DELETE CASCADE,
  -- Its id and a digest of its content: of two that differ none is the other delivered again.
  message text NOT NULL,
  run bigint NOT NULL,
  record bigint NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  -- What is answered, once that is known.
  answer jsonb,
  -- What was noted of the record is on a machine that is gone.
  is_lost boolean NOT NULL DEFAULT false,
  -- Since when its answer is sent and it is acknowledged.
  settled_at timestamptz,
  PRIMARY KEY (trigger, message)
);
CREATE INDEX ON trigger_message (run, record);
CREATE INDEX ON trigger_message (at);
