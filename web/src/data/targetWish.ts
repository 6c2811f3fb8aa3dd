/** A target as it is to be made. */
export interface TargetWish {
  kind: 'csv' | 'sql';
  file: string;
  delimiter: string;
  /** Whether a run's file takes the old one's place. */
  replace: boolean;
  connection?: string;
  table: string;
  /** Whether the table is there; undefined while that is not known. */
  exists?: boolean;
}

export const isReady = (w: TargetWish, hasFields: boolean) =>
  w.kind === 'csv' ? !!w.file.trim() : !!w.connection && !!w.table.trim() && (!!w.exists || hasFields);

/** What will be made, in words. */
export function describe(w: TargetWish): string {
  if (w.kind === 'csv')
    return `${w.file.trim() || 'The file'}: ${w.replace ? 'each run puts a new one in its place' : 'runs add to it'}.`;
  if (!w.table.trim()) return '';
  return w.exists ? `Runs add rows to ${w.table}.` : `${w.table} is made in ${w.connection ?? 'the database'}.`;
}

export const targetName = (w: TargetWish) =>
  w.kind === 'sql' ? w.table.slice(w.table.indexOf('.') + 1) : w.file.trim().replace(/\.\w+$/, '');
