import type { Field } from '../../../api/types';
import { plural } from '../../../common/format';
import type { SourceSettings, TargetSettings, TargetWish } from '../kind';

type Parameter = NonNullable<SourceSettings['parameters']>[number];

/** A query while it is written. */
export interface Draft {
  query: string;
  parameters: Parameter[];
}

const hasValue = (p: Parameter) => p.text !== undefined || !!p.xpath?.trim();

/** There is something to ask once each parameter has a value. */
export const isReadable = (s: SourceSettings) =>
  !!s.connection && !!s.query?.trim() && (s.parameters ?? []).every(hasValue);

/** Settings with what was written; the same when nothing is other. */
export function taken(s: SourceSettings, { query, parameters }: Draft): SourceSettings {
  const given = parameters.length > 0 ? parameters : undefined;
  const isSame = (s.query ?? '') === query && JSON.stringify(s.parameters) === JSON.stringify(given);
  return isSame ? s : { ...s, query, parameters: given };
}
export const isMade = (w: TargetWish) => !w.exists && !!w.table;
export const isReady = (w: TargetWish, hasFields: boolean) =>
  !!w.connection && !!w.table.trim() && (!!w.exists || hasFields);
export function describe(w: TargetWish): string {
  if (!w.table.trim()) return '';
  const does = { update: 'update rows of', upsert: 'insert or update rows of', delete: 'delete rows of' };
  return w.exists
    ? `Runs ${does[w.mode as keyof typeof does] ?? 'add rows to'} ${w.table}.`
    : `${w.table} is made in ${w.connection ?? 'the database'}.`;
}
/** The table's own name, without its schema. */
export const name = (w: TargetWish) => w.table.slice(w.table.indexOf('.') + 1);
export const settings = ({ connection, table, mode, keys }: TargetWish): TargetSettings =>
  mode && mode !== 'insert' ? { connection, table, mode, keys } : { connection, table };
export const making = (w: TargetWish, fields: Field[] | undefined) =>
  isMade(w) && fields ? `Make the table with ${plural(fields.length, 'column')}` : undefined;

/** The columns of a new table: texts of any length, unless they are to be as those that were seen. */
export const madeOf = (fields: Field[], asSeen?: boolean): Field[] =>
  asSeen ? fields : fields.map((f) => ({ ...f, length: undefined, required: false }));
