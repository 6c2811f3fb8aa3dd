-- Records may be gathered into groups, which go on as records of a further leg. A group counts for all of its records.
ALTER TABLE run ADD COLUMN gathered bigint NOT NULL DEFAULT 0,
  -- Whether the pass works on records again after the run had been finished once.
  ADD COLUMN again boolean NOT NULL DEFAULT false;
UPDATE run SET again = pass > 0;
ALTER TABLE run_portion ADD COLUMN gathered integer NOT NULL DEFAULT 0;
ALTER TABLE run_aside ADD COLUMN leg integer NOT NULL DEFAULT 0, ADD COLUMN records integer NOT NULL DEFAULT 1;
-- What records brought to where they are gathered, and the group that took it.
CREATE TABLE run_member (
  run bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  step text NOT NULL,
  number bigint NOT NULL,
  pass integer NOT NULL,
  portion bigint NOT NULL,
  records integer NOT NULL,
  key text NOT NULL,
  entries bytea NOT NULL,
  in_group bigint,
  PRIMARY KEY (run, step, number)
);
CREATE INDEX run_member_by_group ON run_member (run, in_group, number);
-- Groups, numbered after all records of their run; worked on in the pass named here.
CREATE TABLE run_group (
  run bigint NOT NULL REFERENCES run ON DELETE CASCADE,
  number bigint NOT NULL,
  step text NOT NULL,
  leg integer NOT NULL,
  pass integer NOT NULL,
  key text NOT NULL,
  members integer NOT NULL,
  records integer NOT NULL,
  PRIMARY KEY (run, number)
);
CREATE INDEX run_group_by_pass ON run_group (run, pass, number);
