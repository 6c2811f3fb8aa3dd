-- What people say about contracts, operations, connections, sources, targets and flows.
CREATE TABLE about (
  kind text NOT NULL CHECK (kind IN ('contract', 'operation', 'connection', 'source', 'target', 'flow')),
  name text NOT NULL,
  description text NOT NULL,
  labels jsonb NOT NULL,
  notes text NOT NULL,
  marked boolean NOT NULL,
  changed_by text NOT NULL,
  changed_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (kind, name)
);
