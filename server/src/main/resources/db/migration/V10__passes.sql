-- A run is worked on in passes, each by one server: over a part of its source, over records that are sent again, over
-- groups. Several may be worked on at the same time, each with a journal of its own.
CREATE TABLE run_pass (
  run bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  pass integer NOT NULL,
  kind text NOT NULL CHECK (kind IN ('source', 'again', 'groups')),
  -- Whether the run had been finished once before.
  again boolean NOT NULL DEFAULT false,
  -- Of a source: the record it begins with, from 0, and the one it ends before; null for the end.
  first bigint NOT NULL DEFAULT 0,
  until bigint,
  -- That works on it now.
  server text,
  done boolean NOT NULL DEFAULT false,
  -- Why nobody works on it, though it is not done; null while it waits for its turn.
  halted text,
  reason text,
  halted_at timestamptz,
  -- Up to which of its records may have been begun, and the journal that knows of their calls.
  mark bigint NOT NULL DEFAULT 0,
  journal text,
  PRIMARY KEY (run, pass)
);
CREATE INDEX run_pass_worked_on ON run_pass (server) WHERE server IS NOT NULL;
INSERT INTO run_pass (run, pass, kind, again, server, done, halted, reason, halted_at, mark, journal)
SELECT id, pass, CASE WHEN pass = 0 THEN 'source' ELSE 'again' END, again,
  CASE WHEN state = 'running' THEN coalesce(server, 'an earlier version') END, state = 'finished',
  CASE WHEN state NOT IN ('running', 'finished') THEN state END, reason, ended_at, mark, journal FROM run;
ALTER TABLE run DROP COLUMN pass, DROP COLUMN again, DROP COLUMN server, DROP COLUMN mark, DROP COLUMN journal,
  -- Whether several passes may write to its targets at the same time.
  ADD COLUMN beside boolean NOT NULL DEFAULT false;
-- Who makes a call that is made once a run: others wait for it as long as that pass is worked on.
ALTER TABLE run_once ADD COLUMN pass integer NOT NULL DEFAULT 0, ADD COLUMN server text;
