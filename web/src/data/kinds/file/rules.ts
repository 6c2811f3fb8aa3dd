import type { Field } from '../../../api/types';
import type { SourceSettings } from '../kind';

/** The formats of files, as people call them. */
export const FORMATS: Record<string, string> = {
  csv: 'delimited',
  fixed: 'fixed width',
  json: 'JSON',
  jsonl: 'JSON lines',
  xml: 'XML',
  xlsx: 'workbook',
};

const ENDINGS: [RegExp, string][] = [
  [/\.(jsonl|ndjson)$/i, 'jsonl'],
  [/\.json$/i, 'json'],
  [/\.xml$/i, 'xml'],
  [/\.xlsx$/i, 'xlsx'],
];

/** The format that a pattern's ending says. */
export const formatOf = (pattern: string) => ENDINGS.find(([ending]) => ending.test(pattern))?.[1] ?? 'csv';

/** Settings of a format that none were recognised for. */
export function usual(kind: string, s: SourceSettings): SourceSettings {
  const { format, fixed, path, sheet, encoding, ...common } = s;
  switch (kind) {
    case 'csv':
      return { ...common, format: format ?? { delimiter: ';', quote: '"', encoding: 'UTF-8', header: true } };
    case 'fixed':
      return {
        ...common,
        fixed: fixed ?? { encoding: 'UTF-8', skippedLines: 0, columns: [{ name: 'column 1', from: 1, length: 10 }] },
      };
    case 'jsonl':
      return { ...common, encoding: encoding ?? 'UTF-8' };
    case 'xlsx':
      return { ...common, sheet: sheet ?? { header: true } };
    default:
      return { ...common, path: path ?? '' };
  }
}

export const isReadable = (s: SourceSettings) => !!s.file || !!s.files?.trim();

/** What one record is. */
export type Unit = 'row' | 'count' | 'key';

export const unitOf = (s: SourceSettings): Unit => (!s.group ? 'row' : s.group.keys.length > 0 ? 'key' : 'count');

export function withUnit(s: SourceSettings, unit: Unit, fields: Field[]): SourceSettings {
  const { group, ...rest } = s;
  if (unit === 'row') return rest;
  if (unit === 'count') return { ...rest, group: { count: group?.count || 100, keys: [] } };
  const first = fields.find((f) => !f.fields)?.name;
  return { ...rest, group: { count: 0, keys: group?.keys.length ? group.keys : first ? [first] : [] } };
}

/** The fields of rows: those of a record, or of its rows when several make one. */
export const rowFields = (s: SourceSettings, fields: Field[]) =>
  s.group ? (fields.find((f) => f.name === 'row')?.fields ?? fields) : fields;
