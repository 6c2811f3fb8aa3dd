CREATE TABLE account (
  name text PRIMARY KEY,
  password_hash text NOT NULL,
  role text NOT NULL CHECK (role IN ('viewer', 'operator', 'builder', 'admin')),
  created_at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE session (
  token_hash text PRIMARY KEY,
  account text NOT NULL REFERENCES account ON DELETE CASCADE,
  expires_at timestamptz NOT NULL
);
CREATE TABLE contract (
  name text PRIMARY KEY,
  source text NOT NULL,
  version integer NOT NULL DEFAULT 1,
  read_at timestamptz NOT NULL DEFAULT now(),
  summary jsonb NOT NULL
);
CREATE TABLE contract_document (
  contract text NOT NULL REFERENCES contract ON DELETE CASCADE,
  position integer NOT NULL,
  uri text NOT NULL,
  bytes bytea NOT NULL,
  PRIMARY KEY (contract, position)
);
CREATE TABLE connection (
  name text PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('soap', 'database')),
  settings jsonb NOT NULL,
  secret bytea
);
CREATE TABLE data_file (
  id text PRIMARY KEY,
  name text NOT NULL,
  bytes bigint NOT NULL,
  stored_at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE source (
  name text PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('csv', 'sql')),
  settings jsonb NOT NULL
);
CREATE TABLE target (
  name text PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('csv', 'sql')),
  settings jsonb NOT NULL
);
CREATE TABLE flow (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL UNIQUE,
  version integer NOT NULL DEFAULT 1,
  definition jsonb NOT NULL,
  changed_at timestamptz NOT NULL DEFAULT now()
);
-- The answer kept while designing a call step, by flow and step index.
CREATE TABLE specimen_answer (
  flow bigint NOT NULL REFERENCES flow ON DELETE CASCADE,
  step integer NOT NULL,
  status integer NOT NULL,
  request bytea NOT NULL,
  answer bytea NOT NULL,
  kept_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (flow, step)
);
CREATE TABLE run (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  flow bigint REFERENCES flow ON DELETE SET NULL,
  flow_name text NOT NULL,
  flow_version integer NOT NULL,
  definition jsonb NOT NULL,
  environment text NOT NULL,
  scope text NOT NULL,
  started_by text NOT NULL,
  state text NOT NULL CHECK (state IN ('running', 'finished', 'stopped', 'interrupted')),
  reason text,
  started_at timestamptz NOT NULL DEFAULT now(),
  ended_at timestamptz,
  worked_millis bigint NOT NULL DEFAULT 0,
  expected bigint,
  done bigint NOT NULL DEFAULT 0,
  set_aside bigint NOT NULL DEFAULT 0,
  in_doubt bigint NOT NULL DEFAULT 0,
  written bigint NOT NULL DEFAULT 0,
  step_out text NOT NULL DEFAULT '',
  latency text NOT NULL DEFAULT '',
  pass integer NOT NULL DEFAULT 0
);
CREATE INDEX run_by_flow ON run (flow, id DESC);
-- A chunk is the unit of accounting; trails are LZ4-compressed, one block a chunk.
CREATE TABLE run_chunk (
  run bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  pass integer NOT NULL,
  number bigint NOT NULL,
  first bigint NOT NULL,
  records integer NOT NULL,
  lowest bigint NOT NULL,
  highest bigint NOT NULL,
  done integer NOT NULL,
  set_aside integer NOT NULL,
  in_doubt integer NOT NULL,
  written integer NOT NULL,
  step_out text NOT NULL,
  latency text NOT NULL,
  token text,
  confirmed boolean NOT NULL,
  recorded_at timestamptz NOT NULL DEFAULT now(),
  trails bytea NOT NULL,
  PRIMARY KEY (run, pass, number)
);
ALTER TABLE run_chunk ALTER COLUMN trails SET STORAGE EXTERNAL;
-- A record that waits: set aside (to be mended and sent again) or in doubt. It waits until a later pass has accounted for it.
CREATE TABLE run_aside (
  run bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  number bigint NOT NULL,
  pass integer NOT NULL,
  chunk bigint NOT NULL,
  step integer NOT NULL,
  in_doubt boolean NOT NULL,
  code text NOT NULL,
  reason text NOT NULL,
  record text NOT NULL,
  original text,
  sending integer,
  resolved_pass integer,
  resolved_chunk bigint,
  PRIMARY KEY (run, number, pass)
);
CREATE UNIQUE INDEX run_aside_waiting ON run_aside (run, number) WHERE resolved_pass IS NULL;
CREATE INDEX run_aside_by_code ON run_aside (run, code) WHERE resolved_pass IS NULL;
CREATE INDEX run_aside_sending ON run_aside (run, sending, number) WHERE sending IS NOT NULL;
