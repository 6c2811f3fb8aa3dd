import type { Field, SourceUse } from '../api/types';

/** What is other about a source's fields than it was, and which flows name the fields that are concerned. */
export interface FieldChange {
  /** The field's way from the record. */
  field: string;
  what: string;
  /** Names of flows. */
  usedBy: string[];
}

/** All fields by their way from the record, those inside included. */
const flat = (fields: Field[], before = ''): Map<string, Field> =>
  new Map(
    fields.flatMap((f) => [[before + f.name, f] as [string, Field], ...flat(f.fields ?? [], `${before}${f.name}/`)]),
  );

const typeOf = (f: Field) => (f.type === 'string' ? 'text' : f.type === 'nested' ? 'fields inside' : f.type);

const usersOf = (path: string, uses: SourceUse[]) => {
  const name = path.slice(path.lastIndexOf('/') + 1).replace('@', '');
  return uses.filter((u) => u.words.includes(name)).map((u) => u.name);
};

/** What is gone and what is of another type, those that flows use first; then what is new. */
export function fieldChanges(was: Field[], is: Field[], uses: SourceUse[]): FieldChange[] {
  const [old, now] = [flat(was), flat(is)];
  const out: FieldChange[] = [];
  old.forEach((f, field) => {
    const next = now.get(field);
    const usedBy = usersOf(field, uses);
    if (!next) out.push({ field, what: 'is gone', usedBy });
    else if (next.type !== f.type || next.pattern !== f.pattern)
      out.push({ field, what: `was ${written(f)}, is ${written(next)}`, usedBy });
  });
  const added = [...now.keys()].filter((field) => !old.has(field));
  const sorted = [...out.filter((c) => c.usedBy.length), ...out.filter((c) => !c.usedBy.length)];
  return [...sorted, ...added.map((field) => ({ field, what: 'is new', usedBy: [] }))];
}

const written = (f: Field) => (f.pattern ? `${typeOf(f)} ${f.pattern}` : typeOf(f));
