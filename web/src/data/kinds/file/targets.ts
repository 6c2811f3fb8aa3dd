import type { Field } from '../../../api/types';
import type { TargetSettings, TargetWish } from '../kind';

/** Formats that can be written, as people choose them. */
export const WRITTEN = {
  csv: { label: 'a delimited file', ending: 'csv' },
  json: { label: 'JSON', ending: 'json' },
  jsonl: { label: 'JSON lines', ending: 'jsonl' },
  xml: { label: 'XML', ending: 'xml' },
  xlsx: { label: 'a workbook', ending: 'xlsx' },
  text: { label: 'text', ending: 'txt' },
  folder: { label: 'a file each', ending: '' },
};
export type Written = keyof typeof WRITTEN;

export const isReady = (w: TargetWish) => !!w.file.trim();
export const describe = (w: TargetWish) =>
  `${w.file.trim() || 'The file'}: ${w.replace ? 'each run puts a new one in its place' : 'runs add to it'}.`;
export const describeFolder = (w: TargetWish) =>
  `A file in ${w.file.trim() || 'the folder'} for each row: its name by the field name, its text by the field text.`;
/** Without its ending, and without what differs from run to run. */
export const name = (w: TargetWish) =>
  w.file
    .trim()
    .replace(/\.\w+$/, '')
    .replace(/[ _-]*\{[^}]*\}/g, '') || 'results';

/** The file with the ending that a format usually has. */
export const renamed = (file: string, kind: Written) =>
  file.replace(/(\.\w{3,5})?$/, WRITTEN[kind].ending && `.${WRITTEN[kind].ending}`);

export function settings(kind: Written, w: TargetWish, fields: Field[] | undefined): TargetSettings {
  const common = { file: w.file.trim(), replace: w.replace };
  const columns = fields?.map((f) => f.label) ?? [];
  switch (kind) {
    case 'csv':
      return { ...common, columns, format: { delimiter: w.delimiter, quote: '"', encoding: 'UTF-8', header: true } };
    case 'xlsx':
      return { ...common, columns, sheet: w.sheet?.trim() || undefined };
    case 'xml':
      return { ...common, root: w.root?.trim() || undefined, row: w.row?.trim() || undefined };
    default:
      return common;
  }
}
