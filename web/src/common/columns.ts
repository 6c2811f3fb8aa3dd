import type { Field, Tree } from '../api/types';

/** A column of a table of records: a field, or one inside of fields that a record has once. */
export interface RecordColumn {
  field: Field;
  path: string[];
  label: string;
}

const MAX_COLUMNS = 300;

/** Fields as columns, those inside of others under their way there; what repeats is one column. */
export function columnsOf(fields: Field[]): RecordColumn[] {
  const out: RecordColumn[] = [];
  const add = (f: Field, path: string[], labels: string[]) => {
    if (out.length >= MAX_COLUMNS) return;
    const at = [...path, f.name];
    const called = [...labels, f.label];
    const inside = f.many ? undefined : f.fields;
    if (!inside || f.type !== 'nested') out.push({ field: f, path: at, label: called.join('/') });
    inside?.forEach((x) => add(x, at, called));
  };
  fields.forEach((f) => add(f, [], []));
  return out;
}

/** All there is at a path of a record. */
export function nodesAt(record: Tree, path: string[]): Tree[] {
  return path.reduce<Tree[]>(
    (at, name) => at.flatMap((n) => n.children?.filter((c) => c.name === name) ?? []),
    [record],
  );
}

/** As a cell shows it; undefined for nothing. */
export function cellText(nodes: Tree[]): string | undefined {
  if (nodes.length === 0) return undefined;
  if (nodes.some((n) => n.children && n.text === undefined)) return `${nodes.length} ×`;
  const text = nodes
    .map((n) => n.text ?? '')
    .filter(Boolean)
    .join(', ');
  return text || undefined;
}
