-- A kept answer belongs to its step, wherever that stands in the outline: steps have ids, s1, s2 and so on for those
-- that had none.
ALTER TABLE specimen_answer ALTER COLUMN step TYPE text USING 's' || (step + 1);
UPDATE flow SET definition = jsonb_set(definition, '{steps}', (
    SELECT coalesce(jsonb_agg(jsonb_build_object('id', 's' || place) || step ORDER BY place), '[]')
    FROM jsonb_array_elements(definition->'steps') WITH ORDINALITY AS s (step, place)))
  WHERE jsonb_typeof(definition->'steps') = 'array';
