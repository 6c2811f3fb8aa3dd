-- Every version of a contract is kept: flows stay with the one they were made for until they are told otherwise.
CREATE TABLE contract_version (
  contract text NOT NULL REFERENCES contract ON DELETE CASCADE,
  version integer NOT NULL,
  source text NOT NULL,
  read_at timestamptz NOT NULL DEFAULT now(),
  summary jsonb NOT NULL,
  PRIMARY KEY (contract, version)
);
INSERT INTO contract_version (contract, version, source, read_at, summary) SELECT name, version, source, read_at, summary FROM contract;
ALTER TABLE contract_document ADD COLUMN version integer;
UPDATE contract_document d SET version = c.version FROM contract c WHERE c.name = d.contract;
ALTER TABLE contract_document ALTER COLUMN version SET NOT NULL, DROP CONSTRAINT contract_document_pkey, ADD PRIMARY KEY (contract, version, position);
UPDATE flow SET definition = jsonb_set(definition, '{steps}', (
  SELECT jsonb_agg(CASE WHEN s->>'kind' = 'call' AND s->>'contract' IS NOT NULL THEN s || jsonb_build_object('version', (SELECT version FROM contract WHERE name = s->>'contract')) ELSE s END ORDER BY n)
  FROM jsonb_array_elements(definition->'steps') WITH ORDINALITY AS step(s, n)))
WHERE jsonb_array_length(definition->'steps') > 0;
ALTER TABLE contract DROP COLUMN source, DROP COLUMN read_at, DROP COLUMN summary, ADD COLUMN compared_at timestamptz, ADD COLUMN compared text, ADD COLUMN connection text;
-- What was sent from the Bench, newest first; the oldest of an operation make room.
CREATE TABLE bench_exchange (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  contract text NOT NULL REFERENCES contract ON DELETE CASCADE,
  port text NOT NULL,
  operation text NOT NULL,
  sent_at timestamptz NOT NULL DEFAULT now(),
  account text NOT NULL,
  url text NOT NULL,
  outcome text NOT NULL,
  status integer NOT NULL,
  micros bigint NOT NULL,
  fault text,
  request bytea NOT NULL,
  answer bytea NOT NULL
);
CREATE INDEX bench_exchange_by_operation ON bench_exchange (contract, port, operation, id DESC);
