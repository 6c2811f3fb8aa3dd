import type { FillView, Rule, ShapeRow } from '../../api/types';

/** How a secret is typed; no XPath begins so, since nothing binds that prefix. */
export const SECRET = 'secret:';

/** How the content of a file is typed; what follows is an expression for its name. */
export const FILE = 'file:';

/**
 * A rule's value when typed: a leading quote makes a fixed text, `secret:` names a secret, `file:` a file, anything
 * else is XPath.
 */
export const typed = (r?: Rule) =>
  r?.secret !== undefined
    ? SECRET + r.secret
    : r?.file !== undefined
      ? FILE + r.file
      : r?.text !== undefined
        ? `"${r.text}`
        : (r?.xpath ?? '');
export function fromTyped(t: string): Pick<Rule, 'xpath' | 'text' | 'secret' | 'file'> {
  const text = t.trim();
  if (t.startsWith('"')) return { text: t.slice(1).replace(/"$/, '') };
  if (text.startsWith(SECRET)) return { secret: text.slice(SECRET.length).trim() };
  if (text.startsWith(FILE)) return { file: text.slice(FILE.length).trim() };
  return text ? { xpath: text } : {};
}

/** Letters in order, wherever they are; earlier and denser is better. */
export function fuzzy(needle: string, hay: string): number {
  let at = -1;
  let score = 0;
  for (const c of needle.toLowerCase()) {
    const next = hay.toLowerCase().indexOf(c, at + 1);
    if (next < 0) return -1;
    score += next - at === 1 ? 3 : 1 / (next - at);
    at = next;
  }
  return score - hay.length / 100;
}

/** What stands in a row's cell when typed: a repeating row's value is what it repeats over. */
export const typedIn = (row: ShapeRow, rule?: Rule) => (row.repeated && rule?.each ? rule.each : typed(rule));

/** The rule for what was typed. In a repeating row an expression is repeated over, and each item is the value. */
export function ruleOf(row: ShapeRow, rule: Rule | undefined, t: string): Rule {
  const value = fromTyped(t);
  const base = {
    ...rule,
    list: value.xpath ? rule?.list : undefined,
    path: row.path,
    text: undefined,
    xpath: undefined,
    secret: undefined,
    file: undefined,
  };
  if (!row.repeated) return { ...base, ...value };
  if (value.text !== undefined || value.secret !== undefined || value.file !== undefined)
    return { ...base, each: undefined, ...(row.hasText ? value : {}) };
  const item = row.hasText || rule?.xpath === '.' ? '.' : undefined;
  return { ...base, each: value.xpath, xpath: value.xpath && item };
}

/** The rules with one more or changed; a rule that says nothing is dropped, unless it gives a row once more. */
export function merged(rules: Rule[], change: Rule): Rule[] {
  const empty =
    !/\[\d+\]$/.test(change.path) &&
    change.xpath === undefined &&
    change.text === undefined &&
    change.secret === undefined &&
    change.file === undefined &&
    !change.each &&
    !change.kind &&
    !change.kinds?.length &&
    !change.branch &&
    !change.whenEmpty;
  const rest = rules.filter((r) => r.path !== change.path);
  return empty ? rest : [...rest, change];
}

type Suggestion = FillView['suggestions'][number];

/**
 * The rules with what is suggested for a row, and with what is suggested for the repeating rows around it: without
 * them there would be nothing to look at.
 */
export function accepted(path: string, rules: Rule[], suggestions: Suggestion[], rows: ShapeRow[]): Rule[] {
  return suggestions
    .filter((s) => s.path === path || path.startsWith(`${s.path}/`))
    .filter((s) => !rules.some((r) => r.path === s.path))
    .reduce((all, s) => {
      const row = rows.find((r) => r.path === s.path);
      return row ? merged(all, ruleOf(row, undefined, s.xpath)) : all;
    }, rules);
}
