import type { Field } from '../../../api/types';
import type { TargetSettings, TargetWish } from '../kind';

export const isReady = (w: TargetWish) => !!w.file.trim();
export const describe = (w: TargetWish) =>
  `${w.file.trim() || 'The file'}: ${w.replace ? 'each run puts a new one in its place' : 'runs add to it'}.`;
export const name = (w: TargetWish) => w.file.trim().replace(/\.\w+$/, '');
export const settings = (w: TargetWish, fields: Field[] | undefined): TargetSettings => ({
  file: w.file.trim(),
  replace: w.replace,
  columns: fields?.map((f) => f.label) ?? [],
  format: { delimiter: w.delimiter, quote: '"', encoding: 'UTF-8', header: true },
});
