-- Named sets of values of an operation, shared by the project: as rules of its request.
CREATE TABLE test_values (
  contract text NOT NULL REFERENCES contract ON DELETE CASCADE,
  operation text NOT NULL,
  name text NOT NULL,
  rules jsonb NOT NULL,
  changed_by text NOT NULL,
  changed_at timestamptz NOT NULL DEFAULT now(),
  PRIMARY KEY (contract, operation, name)
);
