-- Which kinds of sources and targets there are, the server's beans say.
ALTER TABLE source DROP CONSTRAINT source_kind_check;
ALTER TABLE target DROP CONSTRAINT target_kind_check;
