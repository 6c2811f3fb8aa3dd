-- Runs whose records are handed over by those who ask.
ALTER TABLE run_pass DROP CONSTRAINT run_pass_kind_check;
ALTER TABLE run_pass ADD CHECK (kind IN ('source', 'again', 'groups', 'requests'));

-- The version of the flow that is live; null for the newest.
ALTER TABLE flow_trigger ADD COLUMN version integer;
ALTER TABLE flow_trigger ADD COLUMN version_since timestamptz;

-- What lets somebody ask. The key itself is shown once and kept nowhere.
CREATE TABLE trigger_key (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL UNIQUE,
  digest bytea NOT NULL UNIQUE,
  -- The one before it was rotated, and until when it still counts.
  old_digest bytea UNIQUE,
  old_until timestamptz,
  -- Names of triggers it is for; null for all.
  triggers jsonb,
  per_second double precision,
  per_day bigint,
  ends_at timestamptz,
  created_by text NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  used_at timestamptz
);
CREATE TABLE trigger_key_day (
  key bigint NOT NULL REFERENCES trigger_key ON DELETE CASCADE,
  day date NOT NULL,
  calls bigint NOT NULL,
  PRIMARY KEY (key, day)
);

-- What was asked of a trigger, a quarter of an hour together.
CREATE TABLE trigger_traffic (
  trigger bigint NOT NULL REFERENCES flow_trigger ON DELETE CASCADE,
  at timestamptz NOT NULL,
  calls bigint NOT NULL,
  failed bigint NOT NULL,
  refused bigint NOT NULL,
  latency text NOT NULL,
  PRIMARY KEY (trigger, at)
);
CREATE TABLE trigger_caller (
  trigger bigint NOT NULL REFERENCES flow_trigger ON DELETE CASCADE,
  caller text NOT NULL,
  calls bigint NOT NULL,
  at timestamptz NOT NULL,
  status integer NOT NULL,
  PRIMARY KEY (trigger, caller)
);

-- Requests that carry a key by which the same one is known again.
CREATE TABLE trigger_request (
  trigger bigint NOT NULL REFERENCES flow_trigger ON DELETE CASCADE,
  caller text NOT NULL,
  key text NOT NULL,
  digest bytea NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  run bigint,
  -- Null while it is worked on.
  status integer,
  type text,
  body bytea,
  PRIMARY KEY (trigger, caller, key)
);
CREATE INDEX ON trigger_request (at);
