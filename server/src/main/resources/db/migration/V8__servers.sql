-- Several servers may share a database and a folder. A run is worked on by the server named here; what somebody asked
-- of it at another server is its wish.
ALTER TABLE run ADD COLUMN server text, ADD COLUMN wish text;
CREATE INDEX run_running ON run (id) WHERE state = 'running';
-- The folders of servers, and when one of them was last heard of: two folders on one database would not know of each
-- other's files.
CREATE TABLE server_folder (folder text PRIMARY KEY, beat timestamptz NOT NULL);
