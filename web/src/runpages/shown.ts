import type { PageForm, ShownField } from '../api/types';

/** A table of an answer. */
export interface ShownTable {
  label: string;
  columns: ShownField[];
  rows: Record<string, unknown>[];
}

/** One value of an answer, with the way to it as its label. */
export interface ShownValue {
  field: ShownField;
  label: string;
  value: unknown;
}

export interface Shown {
  values: ShownValue[];
  tables: ShownTable[];
}

const isObject = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

/** Fields as they are in an answer, where they were not known before. */
function seen(in_: unknown): ShownField[] {
  if (!isObject(in_)) return [];
  return Object.entries(in_).map(([name, v]) => {
    const first: unknown = Array.isArray(v) ? v[0] : v;
    return {
      name,
      label: name,
      kind: isObject(first) ? 'group' : typeof first === 'number' ? 'number' : 'text',
      many: Array.isArray(v),
      fields: isObject(first) ? seen(first) : undefined,
    };
  });
}

/** Single values of rows; those inside of groups by their path. */
export const columnsOf = (fields: ShownField[], at = '', around = ''): ShownField[] =>
  fields.flatMap((f) =>
    f.kind !== 'group'
      ? [{ ...f, name: at + f.name, label: around + f.label }]
      : f.many
        ? []
        : columnsOf(f.fields ?? [], `${at}${f.name}/`, `${around}${f.label} `),
  );

/** A value below a row, by the names on the way. */
export const valueAt = (row: unknown, path: string): unknown =>
  path.split('/').reduce<unknown>((v, name) => (isObject(v) ? v[name] : undefined), row);

function collect(fields: ShownField[], in_: Record<string, unknown>, around: string, into: Shown) {
  for (const f of fields) {
    const v = in_[f.name];
    if (f.kind === 'group' && f.many) {
      const rows = Array.isArray(v) ? v.filter(isObject) : [];
      into.tables.push({ label: f.label, columns: columnsOf(f.fields ?? seen(rows[0])), rows });
    } else if (f.kind === 'group') {
      if (isObject(v)) collect(f.fields ?? seen(v), v, `${around}${f.label} `, into);
    } else into.values.push({ field: f, label: around + f.label, value: v });
  }
}

/** What of a reply is shown as values, and what as tables. */
export function shownOf(form: Pick<PageForm, 'shown' | 'isList'>, reply: unknown): Shown {
  const out: Shown = { values: [], tables: [] };
  if (Array.isArray(reply)) {
    const rows = reply.filter(isObject);
    out.tables.push({ label: '', columns: columnsOf(form.shown ?? seen(rows[0])), rows });
  } else if (isObject(reply)) collect(form.shown ?? seen(reply), reply, '', out);
  return out;
}

const DATE_TIME = /^(\d{4}-\d\d-\d\d)T(\d\d:\d\d)(:\d\d(\.\d+)?)?(Z|[+-]\d\d:\d\d)?$/;
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

const dateWords = (iso: string) => {
  const [y, m, d] = iso.slice(0, 10).split('-').map(Number);
  return `${d} ${MONTHS[m - 1] ?? m} ${y}`;
};

/** A value as people read it; a moment with a zone as it is here. */
export function words(f: Pick<ShownField, 'kind' | 'unit'>, value: unknown): string {
  if (value === null || value === undefined || value === '') return '';
  if (Array.isArray(value)) return value.map((v) => words(f, v)).join(', ');
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value !== 'string' && typeof value !== 'number') return JSON.stringify(value);
  const text = String(value);
  const shown =
    f.kind === 'date' && /^\d{4}-\d\d-\d\d/.test(text)
      ? dateWords(text)
      : f.kind === 'dateTime'
        ? momentWords(text)
        : f.kind === 'time'
          ? text.slice(0, 5)
          : text;
  return f.unit ? `${shown} ${f.unit}` : shown;
}

function momentWords(text: string): string {
  const m = DATE_TIME.exec(text);
  if (!m) return text;
  if (!m[5]) return `${dateWords(m[1])}, ${m[2]}`;
  const d = new Date(text);
  const time = `${String(d.getHours()).padStart(2, '0')}:${String(d.getMinutes()).padStart(2, '0')}`;
  return `${d.getDate()} ${MONTHS[d.getMonth()]} ${d.getFullYear()}, ${time}`;
}
