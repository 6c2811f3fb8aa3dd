-- How an operation says inside an answer that it failed: for all versions of the contract.
CREATE TABLE error_rule (
  contract text NOT NULL REFERENCES contract ON DELETE CASCADE,
  operation text NOT NULL,
  fail_when text NOT NULL,
  reason text,
  code text,
  PRIMARY KEY (contract, operation)
);
