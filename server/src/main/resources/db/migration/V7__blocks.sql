-- Steps may be inside each other: what is counted, failed or kept is known by ids and paths, no longer by numbers.
ALTER TABLE run ADD COLUMN counts jsonb NOT NULL DEFAULT '{}', ADD COLUMN totals jsonb NOT NULL DEFAULT '{}',
  -- Of the pass: up to which position records may have been begun, and the journal that knows of their calls.
  ADD COLUMN mark bigint NOT NULL DEFAULT 0, ADD COLUMN journal text,
  -- Begun at most; 0 for as many as there can be.
  ADD COLUMN records_per_second double precision NOT NULL DEFAULT 0;
UPDATE run SET counts = coalesce((
    SELECT jsonb_object_agg(coalesce(step->>'id', 's' || place), out::bigint)
    FROM jsonb_array_elements(CASE WHEN jsonb_typeof(definition->'steps') = 'array' THEN definition->'steps'
      ELSE '[]' END) WITH ORDINALITY AS s (step, place)
    JOIN unnest(string_to_array(nullif(step_out, ''), ',')) WITH ORDINALITY AS o (out, at) ON at = place), '{}');
ALTER TABLE run DROP COLUMN step_out;
-- A run may read several sources (looked up in) and write to several targets.
UPDATE run SET pinned = jsonb_build_object(
    'sources', CASE WHEN pinned ? 'source' THEN jsonb_build_array(pinned->'source') ELSE '[]' END,
    'targets', CASE WHEN pinned ? 'target' THEN jsonb_build_array(pinned->'target') ELSE '[]' END)
  WHERE pinned IS NOT NULL;
ALTER TABLE run_chunk RENAME TO run_portion;
ALTER TABLE run_portion ADD COLUMN counts jsonb NOT NULL DEFAULT '{}';
UPDATE run_portion p SET counts = coalesce((
    SELECT jsonb_object_agg(coalesce(step->>'id', 's' || place), out::bigint)
    FROM run r, jsonb_array_elements(CASE WHEN jsonb_typeof(r.definition->'steps') = 'array'
      THEN r.definition->'steps' ELSE '[]' END) WITH ORDINALITY AS s (step, place)
    JOIN unnest(string_to_array(nullif(p.step_out, ''), ',')) WITH ORDINALITY AS o (out, at) ON at = place
    WHERE r.id = p.run), '{}');
-- What targets are to get of a portion, until all of them have it. Without an output it was recorded by an earlier
-- version, which kept none: then the portion is worked on again from the journal.
CREATE TABLE run_delivery (
  run bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  pass integer NOT NULL,
  number bigint NOT NULL,
  target text NOT NULL,
  token text NOT NULL,
  output bytea,
  PRIMARY KEY (run, pass, number, target)
);
ALTER TABLE run_delivery ALTER COLUMN output SET STORAGE EXTERNAL;
INSERT INTO run_delivery (run, pass, number, target, token)
SELECT p.run, p.pass, p.number, coalesce(r.pinned->'targets'->0->>'name', ''), p.token
  FROM run_portion p JOIN run r ON r.id = p.run WHERE NOT p.confirmed AND p.token IS NOT NULL;
ALTER TABLE run_portion DROP COLUMN step_out, DROP COLUMN token, DROP COLUMN confirmed;
ALTER TABLE run_aside RENAME COLUMN chunk TO portion;
ALTER TABLE run_aside RENAME COLUMN resolved_chunk TO resolved_portion;
ALTER TABLE run_aside ADD COLUMN path text, ADD COLUMN counts jsonb NOT NULL DEFAULT '{}',
  ADD COLUMN half boolean NOT NULL DEFAULT false;
UPDATE run_aside a SET path = coalesce(r.definition->'steps'->a.step->>'id', 's' || (a.step + 1))
  FROM run r WHERE r.id = a.run;
ALTER TABLE run_aside ALTER COLUMN path SET NOT NULL, DROP COLUMN step;
-- Lines that steps of a run logged.
CREATE TABLE run_line (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  run bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  pass integer NOT NULL,
  portion bigint NOT NULL,
  number bigint NOT NULL,
  at timestamptz NOT NULL,
  level text NOT NULL,
  path text NOT NULL,
  text text NOT NULL
);
CREATE INDEX run_line_by_run ON run_line (run, id);
-- Calls made once a run: sending while the answer is null. What they answered may be a session: it is encrypted.
CREATE TABLE run_once (
  run bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  step text NOT NULL,
  answer bytea,
  PRIMARY KEY (run, step)
);
-- What somebody decided about a record that waited: that its call did happen or did not, or that it is given up.
ALTER TABLE run ADD COLUMN discarded bigint NOT NULL DEFAULT 0;
CREATE TABLE run_settled (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  run bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  number bigint NOT NULL,
  verdict text NOT NULL CHECK (verdict IN ('happened', 'not happened', 'discarded')),
  reason text NOT NULL,
  settled_by text NOT NULL,
  settled_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX run_settled_by_run ON run_settled (run, number);
-- Values that a flow keeps between its runs; a run sees them as they were when it began.
CREATE TABLE flow_kept (
  flow bigint NOT NULL REFERENCES flow ON DELETE CASCADE,
  name text NOT NULL,
  value text NOT NULL,
  changed_by text NOT NULL,
  changed_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (flow, name)
);
ALTER TABLE run ADD COLUMN kept jsonb NOT NULL DEFAULT '{}';
