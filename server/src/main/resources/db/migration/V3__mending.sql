-- A run keeps the definitions of the source and the target it began with: on going on it reads the very file it read before.
ALTER TABLE run ADD COLUMN pinned jsonb, ADD COLUMN pause_after integer NOT NULL DEFAULT 20,
  DROP CONSTRAINT run_state_check,
  ADD CONSTRAINT run_state_check CHECK (state IN ('running', 'finished', 'stopped', 'interrupted', 'paused'));
-- Calls that a waiting record was answered before something later set it aside.
ALTER TABLE run_aside ADD COLUMN answers bytea, ADD COLUMN call_again boolean NOT NULL DEFAULT false;
ALTER TABLE bench_exchange ADD COLUMN request_headers jsonb, ADD COLUMN answer_headers jsonb;
ALTER TABLE specimen_answer ADD COLUMN answer_headers jsonb;
ALTER TABLE session ADD COLUMN id bigint GENERATED ALWAYS AS IDENTITY, ADD COLUMN created_at timestamptz NOT NULL DEFAULT now(),
  ADD COLUMN seen_at timestamptz NOT NULL DEFAULT now(), ADD COLUMN address text NOT NULL DEFAULT '', ADD COLUMN agent text NOT NULL DEFAULT '';
-- One time-out for a whole call takes the place of that between two packets.
UPDATE connection SET settings = settings - 'answerTimeoutMillis' || jsonb_build_object('callTimeoutMillis', settings->'answerTimeoutMillis')
  WHERE settings ? 'answerTimeoutMillis';
-- Who changed or ran what.
CREATE TABLE audit (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  at timestamptz NOT NULL DEFAULT now(),
  account text NOT NULL,
  address text NOT NULL,
  method text NOT NULL,
  path text NOT NULL,
  status integer NOT NULL,
  detail text
);
-- What administrators set for the whole project.
CREATE TABLE setting (
  name text PRIMARY KEY,
  value jsonb NOT NULL,
  changed_by text NOT NULL,
  changed_at timestamptz NOT NULL DEFAULT now()
);
