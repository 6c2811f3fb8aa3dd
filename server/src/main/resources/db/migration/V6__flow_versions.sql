-- Every save of a flow: what it was then, who saved it, and the name somebody gave that version.
CREATE TABLE flow_version (
  flow bigint NOT NULL REFERENCES flow ON DELETE CASCADE,
  version integer NOT NULL,
  name text NOT NULL,
  definition jsonb NOT NULL,
  saved_by text NOT NULL,
  saved_at timestamptz NOT NULL DEFAULT now(),
  label text,
  PRIMARY KEY (flow, version)
);
-- Who saved what there is already was not kept.
INSERT INTO flow_version (flow, version, name, definition, saved_by, saved_at)
SELECT id, version, name, definition, '', changed_at FROM flow;
