import type { Rule, ShapeRow } from '../../api/types';

const WHEN: Record<string, string> = { KEEP: 'keep empty', NIL: 'nil if empty' };

/**
 * What happens when a value is empty; a required row can be kept empty on purpose, or sent as nil where that is
 * allowed.
 */
export function EmptyRule({ row: r, rule, put }: { row: ShapeRow; rule: Rule; put: (r: Rule) => void }) {
  const turn: NonNullable<Rule['whenEmpty']>[] = [
    'OMIT',
    ...(r.required && r.values ? [] : (['KEEP'] as const)),
    ...(r.nillable ? (['NIL'] as const) : []),
  ];
  const next = turn[(turn.indexOf(rule.whenEmpty ?? 'OMIT') + 1) % turn.length];
  const words = WHEN[rule.whenEmpty ?? ''] ?? (r.required ? 'must not be empty' : 'omit if empty');
  return (
    <button
      className={`link soft small push nowrap ${r.required && !rule.whenEmpty ? 'quiet' : ''}`}
      title="what happens when the value is empty"
      disabled={turn.length < 2}
      onClick={() => put({ ...rule, whenEmpty: next === 'OMIT' ? undefined : next })}
    >
      {words}
    </button>
  );
}
