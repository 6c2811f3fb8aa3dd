-- Secrets in a store of their own, by name; a connection names them. What was a connection's password has its name.
CREATE TABLE secret (
  name text PRIMARY KEY,
  sealed bytea NOT NULL,
  -- Where it may be sent: origins of addresses, and proxies. Those of connections that use it count as well.
  places jsonb NOT NULL DEFAULT '[]',
  changed_at timestamptz NOT NULL DEFAULT now(),
  changed_by text NOT NULL
);
INSERT INTO secret (name, sealed, changed_by) SELECT name, secret, 'an earlier version' FROM connection
WHERE secret IS NOT NULL;

-- What is the same in all environments, and beside it what differs: by environment, in their order (so json, not jsonb).
ALTER TABLE connection ADD environments json NOT NULL DEFAULT '{}';
UPDATE connection c SET
  environments = (
    SELECT coalesce(json_object_agg(e.key, jsonb_strip_nulls(jsonb_build_object(
      'url', e.value, 'trust', c.settings->'trust'->e.key)) ORDER BY e.key <> 'test', e.key), '{}')
    FROM jsonb_each(c.settings->'urls') e),
  settings = c.settings - 'urls' - 'trust' - 'keyHeader'
    || CASE WHEN c.settings ? 'keyHeader' THEN jsonb_build_object('keyName', c.settings->'keyHeader') ELSE '{}' END
    || CASE WHEN c.secret IS NOT NULL THEN jsonb_build_object('secret', c.name) ELSE '{}' END;
ALTER TABLE connection DROP secret;

-- A certificate of our own has its private key, encrypted.
ALTER TABLE certificate ADD sealed_key bytea;
