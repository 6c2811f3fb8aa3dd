-- What starts flows by themselves.
CREATE TABLE flow_trigger (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL UNIQUE,
  kind text NOT NULL,
  flow bigint NOT NULL REFERENCES flow,
  environment text NOT NULL,
  settings jsonb NOT NULL,
  is_on boolean NOT NULL,
  changed_by text NOT NULL,
  changed_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX ON flow_trigger (flow);

-- What came of each thing that a trigger was due for; the run may have been removed since.
CREATE TABLE trigger_start (
  trigger bigint NOT NULL REFERENCES flow_trigger ON DELETE CASCADE,
  due timestamptz NOT NULL,
  at timestamptz NOT NULL DEFAULT now(),
  run bigint,
  reason text,
  PRIMARY KEY (trigger, due)
);

-- By this a run is started once for one thing, whoever tries it how often.
ALTER TABLE run ADD COLUMN started_for text UNIQUE;

-- The table of db-scheduler, which all servers share.
CREATE TABLE scheduled_tasks (
  task_name text NOT NULL,
  task_instance text NOT NULL,
  task_data bytea,
  execution_time timestamptz NOT NULL,
  picked boolean NOT NULL,
  picked_by text,
  last_success timestamptz,
  last_failure timestamptz,
  consecutive_failures int,
  last_heartbeat timestamptz,
  version bigint NOT NULL,
  priority smallint,
  PRIMARY KEY (task_name, task_instance)
);
CREATE INDEX ON scheduled_tasks (execution_time);
CREATE INDEX ON scheduled_tasks (last_heartbeat);
