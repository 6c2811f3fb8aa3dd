import type { Column, RecordKind, FillView, Flow, Rule, ShapeRow, StepOf, Tree } from '../../api/types';
import { ruleOf } from '../fill/values';
import { columnName, expand, isPlumbing } from '../kinds/pick/paths';
import { seenFrom, taken, xpathOf } from '../kinds/pick/picking';

/** A flow made from an operation: what it starts with, so that hardly anything is left to be done by hand. */

/** The values a request begins with: what is suggested, and what was typed on the Bench where nothing is. */
export function firstFill(fill: FillView, typed: Rule[]): Rule[] {
  const rules: Rule[] = fill.suggestions.map((s) => {
    const row = fill.rows.find((r) => r.path === s.path);
    return row ? ruleOf(row, undefined, s.xpath) : { path: s.path, xpath: s.xpath };
  });
  const has = (path: string) => rules.some((r) => r.path === path);
  for (const r of typed) if (!has(r.path)) rules.push(r);
  return [...rules, ...branches(fill.rows, rules)];
}

/** A choice of which one branch is filled takes that branch. */
function branches(rows: ShapeRow[], rules: Rule[]): Rule[] {
  return rows
    .filter((r) => r.kind === 'choice' && !rules.some((x) => x.path === r.path))
    .flatMap((choice) => {
      const inside = rules
        .filter((r) => r.path.startsWith(`${choice.path}/`))
        .map((r) => r.path.slice(choice.path.length + 1).split('/')[0]);
      return inside.length ? [{ path: choice.path, branch: inside[0] }] : [];
    });
}

const inside = (path: string, of: string) => path.startsWith(`${of}/`);

/** What of an answer can be a record each: its repeating elements with something inside, the outermost first. */
export const repeats = (rows: ShapeRow[]) =>
  rows.filter((r) => r.repeated && r.kind === 'element' && rows.some((x) => inside(x.path, r.path) && x.hasText));

/** The path from the answer's own element, which is `$reply`. */
const fromReply = (path: string) => path.split('/').slice(1).join('/');

/** The pick from what the contract says of the answer. @param each the path of a row; empty for the whole answer */
export function pickOfShape(rows: ShapeRow[], each: string): Pick<StepOf<'pick'>, 'each' | 'columns'> {
  const deeper = repeats(rows).filter((r) => r.path !== each && !inside(each, r.path));
  const record = each ? `$reply/${fromReply(each)}` : undefined;
  const columns: Column[] = [];
  for (const r of rows) {
    const isValue = r.hasText && (r.kind === 'element' || r.kind === 'attribute') && !r.header;
    const isDeeper = deeper.some((d) => r.path === d.path || inside(r.path, d.path));
    const leaf = r.path.slice(r.path.lastIndexOf('/') + 1);
    if (!r.path.includes('/') || !isValue || isDeeper) continue;
    if (r.path.includes('choice') || isPlumbing(leaf, undefined)) continue;
    columns.push({
      name: columnName(r.path, columns),
      xpath: xpathOf(record, fromReply(r.path)),
      type: columnType(r.type),
    });
  }
  return { each: record, columns };
}

const TYPES = ['integer', 'decimal', 'double', 'boolean', 'date', 'dateTime', 'time'];
const INTEGERS = /^(int|long|short|byte|integer|(non)?(positive|negative)Integer|unsigned\w+)$/i;

/** The type of a column for a type of the schema. */
function columnType(type: string | undefined): string {
  const local = (type ?? '').split(/[:\s]/).pop() ?? '';
  if (INTEGERS.test(local)) return 'integer';
  if (local === 'float') return 'double';
  return TYPES.find((t) => t === local) ?? 'string';
}

/** The pick from a real answer; better than the contract, since it shows what there is. */
export function pickOfAnswer(answer: Tree, each: string | undefined): Pick<StepOf<'pick'>, 'each' | 'columns'> {
  const kind = seenFrom<RecordKind>({ columns: [] }, each ?? '');
  const { each: record, columns } = taken(kind, expand(answer));
  return { each: record, columns };
}

/** The columns with a field of the source in front, by which a result is known. */
export function keyed(columns: Column[], key: string | undefined): Column[] {
  if (!key || columns.some((c) => c.xpath === `$record/${key}`)) return columns;
  return [{ name: columnName(key, columns), xpath: `$record/${key}`, type: 'string' }, ...columns];
}

export interface Parts {
  source: string;
  call: Omit<StepOf<'call'>, 'id' | 'kind'>;
  /** None for an operation that does not answer. */
  pick?: Pick<StepOf<'pick'>, 'each' | 'columns'>;
  target?: string;
}

export const flowOf = ({ source, call, pick, target }: Parts): Flow => ({
  format: 2,
  steps: [
    { id: 's1', kind: 'read', source },
    { ...call, id: 's2', kind: 'call' },
    ...(pick ? [{ ...pick, id: 's3', kind: 'pick' as const, as: 'result' }] : []),
    ...(target ? [{ id: 's4', kind: 'write' as const, target, from: pick && '$result' }] : []),
  ],
});
