-- What documents look like: the project's own schemas.
CREATE TABLE shape (
  name text PRIMARY KEY,
  kind text NOT NULL CHECK (kind IN ('xsd', 'json-schema')),
  settings jsonb NOT NULL
);
ALTER TABLE about DROP CONSTRAINT about_kind_check;
ALTER TABLE about ADD CHECK (kind IN ('contract', 'operation', 'connection', 'source', 'target', 'shape', 'flow'));
