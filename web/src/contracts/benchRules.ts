import type { Rule, ShapeRow } from '../api/types';

/** What is typed on the Bench: values by path, kinds, branches, and how often a repeating row is given. */
export interface BenchState { values: Record<string, string>; kinds: Record<string, string>; branches: Record<string, string>; opened: string[]; shown: string[] }
export const EMPTY_BENCH: BenchState = { values: {}, kinds: {}, branches: {}, opened: [], shown: [] };

export function rulesOf(s: BenchState): Rule[] {
  const byPath = new Map<string, Rule>();
  const at = (path: string) => { const r = byPath.get(path) ?? { path }; byPath.set(path, r); return r; };
  Object.entries(s.values).forEach(([p, v]) => { if (v !== '') at(p).text = v; });
  Object.entries(s.kinds).forEach(([p, k]) => { if (k) at(p).kind = k; });
  Object.entries(s.branches).forEach(([p, b]) => { if (b) at(p).branch = b; });
  return [...byPath.values()];
}

/** Rules, such as those of an example, as if they had been typed. A repeat is shown once. */
export function stateOf(rules: Rule[]): BenchState {
  const s: BenchState = { values: {}, kinds: {}, branches: {}, opened: [], shown: [] };
  for (const r of rules) {
    if (r.text !== undefined) s.values[r.path] = r.text;
    else if (r.xpath) s.values[r.path] = `id-${Object.keys(s.values).length}`;
    if (r.kind) s.kinds[r.path] = r.kind;
    if (r.branch) s.branches[r.path] = r.branch;
  }
  return s;
}

const parentOf = (path: string) => path.slice(0, Math.max(0, path.lastIndexOf('/')));

/** The rows to show: required ones, those with values, and optional ones that were unfolded; of a choice only the branch taken. */
export function visible(rows: ShapeRow[], s: BenchState): { rows: ShapeRow[]; folded: Map<string, ShapeRow[]> } {
  const byPath = new Map(rows.map((r) => [r.path, r]));
  const folded = new Map<string, ShapeRow[]>();
  const hidden = new Set<string>();
  const used = new Set<string>();
  Object.entries(s.values).forEach(([p, v]) => { if (v !== '') for (let x = p; x; x = parentOf(x)) used.add(x); });
  const out: ShapeRow[] = [];
  for (const r of rows) {
    const parent = parentOf(r.path);
    if (hidden.has(parent)) { hidden.add(r.path); continue; }
    const p = byPath.get(parent);
    if (p?.kind === 'choice') {
      const branch = s.branches[parent] ?? rows.find((x) => parentOf(x.path) === parent && used.has(x.path))?.path.slice(parent.length + 1);
      if (branch !== r.path.slice(parent.length + 1)) { hidden.add(r.path); continue; }
    } else if (!r.required && r.depth > 0 && !used.has(r.path) && !s.shown.includes(parent)) {
      hidden.add(r.path);
      folded.set(parent, [...(folded.get(parent) ?? []), r]);
      continue;
    }
    out.push(r);
  }
  return { rows: out, folded };
}
