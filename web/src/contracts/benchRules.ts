import type { Rule, ShapeRow } from '../api/types';

/**
 * What is typed on the Bench: values, names of secrets and files, kinds, branches by path; rows that are nil; how often
 * a repeating row is given.
 */
export interface BenchState {
  values: Record<string, string>;
  secrets: Record<string, string>;
  files: Record<string, string>;
  kinds: Record<string, string>;
  branches: Record<string, string>;
  counts: Record<string, number>;
  nils: string[];
  opened: string[];
  shown: string[];
}
export const EMPTY_BENCH: BenchState = {
  values: {},
  secrets: {},
  files: {},
  kinds: {},
  branches: {},
  counts: {},
  nils: [],
  opened: [],
  shown: [],
};

export function rulesOf(s: BenchState): Rule[] {
  const byPath = new Map<string, Rule>();
  const at = (path: string) => {
    const r = byPath.get(path) ?? { path };
    byPath.set(path, r);
    return r;
  };
  const isNil = (path: string) =>
    s.nils.some((n) => path === n || (path.startsWith(`${n}/`) && !path.slice(n.length + 1).startsWith('@')));
  Object.entries(s.values).forEach(([p, v]) => {
    if (v !== '' && !isNil(p)) at(p).text = v;
  });
  Object.entries(s.secrets).forEach(([p, name]) => {
    if (name && !isNil(p)) at(p).secret = name;
  });
  Object.entries(s.files).forEach(([p, name]) => {
    if (name && !isNil(p)) at(p).file = `'${name.replaceAll("'", "''")}'`;
  });
  Object.entries(s.kinds).forEach(([p, k]) => {
    if (k && !s.nils.some((n) => p.startsWith(`${n}/`))) at(p).kind = k;
  });
  Object.entries(s.branches).forEach(([p, b]) => {
    if (b && !isNil(p)) at(p).branch = b;
  });
  s.nils.forEach((p) => {
    at(p).whenEmpty = 'NIL';
  });
  // An occurrence that was asked for is there, even while nothing is typed in it: what it needs is then said.
  Object.entries(s.counts).forEach(([base, count]) => {
    for (let n = 1; count > 1 && n <= count; n++) {
      const p = nth(base, n);
      if (!isNil(p) && ![...byPath.keys()].some((k) => k === p || k.startsWith(`${p}/`))) at(p).whenEmpty = 'KEEP';
    }
  });
  return [...byPath.values()];
}

const nth = (base: string, n: number) => (n === 1 ? base : `${base}[${n}]`);
const OCCURRENCE = /^(.*)\[(\d+)\]$/;
/** A row's path without the number of its occurrence, and that number. */
export function occurrence(path: string): { base: string; n: number } {
  const m = OCCURRENCE.exec(path);
  return m ? { base: m[1], n: Number(m[2]) } : { base: path, n: 1 };
}

/** Rules, such as those of an example or read from XML, as if they had been typed. */
export function stateOf(rules: Rule[]): BenchState {
  const s: BenchState = {
    values: {},
    secrets: {},
    files: {},
    kinds: {},
    branches: {},
    counts: {},
    nils: [],
    opened: [],
    shown: [],
  };
  for (const r of rules) {
    if (r.secret) s.secrets[r.path] = r.secret;
    else if (r.file) s.files[r.path] = r.file.replace(/^'(.*)'$/, '$1').replaceAll("''", "'");
    else if (r.text !== undefined) s.values[r.path] = r.text;
    else if (r.xpath) s.values[r.path] = `id-${Object.keys(s.values).length}`;
    if (r.kind) s.kinds[r.path] = r.kind;
    if (r.branch) s.branches[r.path] = r.branch;
    if (r.whenEmpty === 'NIL') s.nils.push(r.path);
    for (let p = r.path; p; p = parentOf(p)) {
      const { base, n } = occurrence(p);
      if (n > 1) s.counts[base] = Math.max(s.counts[base] ?? 1, n);
      const up = parentOf(p);
      if (up && !s.opened.includes(up)) s.opened.push(up);
    }
  }
  return s;
}

export const added = (s: BenchState, path: string): BenchState => {
  const { base } = occurrence(path);
  return { ...s, counts: { ...s.counts, [base]: (s.counts[base] ?? 1) + 1 } };
};

/** Without one occurrence: those after it move up. The last one left is emptied. */
export function removed(s: BenchState, path: string): BenchState {
  const { base, n } = occurrence(path);
  const count = s.counts[base] ?? 1;
  const moved = (key: string): string | null => {
    for (let i = count; i >= 1; i--) {
      const at = nth(base, i);
      if (key === at || key.startsWith(`${at}/`))
        return i < n ? key : i === n ? null : nth(base, i - 1) + key.slice(at.length);
    }
    return key;
  };
  const keys = <T>(o: Record<string, T>) =>
    Object.fromEntries(
      Object.entries(o).flatMap(([k, v]) => {
        const m = moved(k);
        return m === null ? [] : [[m, v]];
      }),
    ) as Record<string, T>;
  const list = (l: string[]) => l.flatMap((k) => moved(k) ?? []);
  const counts = keys(s.counts);
  if (count > 1) counts[base] = count - 1;
  else delete counts[base];
  return {
    values: keys(s.values),
    secrets: keys(s.secrets),
    files: keys(s.files),
    kinds: keys(s.kinds),
    branches: keys(s.branches),
    counts,
    nils: list(s.nils),
    opened: list(s.opened),
    shown: list(s.shown),
  };
}

const parentOf = (path: string) => path.slice(0, Math.max(0, path.lastIndexOf('/')));

/**
 * The rows to show: required ones, those with values, and optional ones that were unfolded; of a choice only the branch
 * taken; nothing inside nil.
 */
export function visible(rows: ShapeRow[], s: BenchState): { rows: ShapeRow[]; folded: Map<string, ShapeRow[]> } {
  const byPath = new Map(rows.map((r) => [r.path, r]));
  const folded = new Map<string, ShapeRow[]>();
  const hidden = new Set<string>();
  const used = new Set<string>();
  const use = (path: string) => {
    for (let x = path; x; x = parentOf(x)) used.add(x);
  };
  Object.entries(s.values).forEach(([p, v]) => {
    if (v !== '') use(p);
  });
  [...Object.keys(s.secrets), ...Object.keys(s.files)].forEach(use);
  Object.entries(s.branches).forEach(([p, v]) => {
    if (v) use(p);
  });
  Object.entries(s.counts).forEach(([p, n]) => {
    if (n > 1) use(p);
  });
  s.nils.forEach(use);
  const out: ShapeRow[] = [];
  for (const r of rows) {
    const parent = parentOf(r.path);
    if (hidden.has(parent) || (s.nils.includes(parent) && r.kind !== 'attribute')) {
      hidden.add(r.path);
      continue;
    }
    const p = byPath.get(parent);
    if (p?.kind === 'choice') {
      const branch =
        s.branches[parent] ??
        rows.find((x) => parentOf(x.path) === parent && used.has(x.path))?.path.slice(parent.length + 1);
      if (branch !== occurrence(r.path).base.slice(parent.length + 1)) {
        hidden.add(r.path);
        continue;
      }
    } else if (!r.required && r.depth > 0 && !r.occurrence && !used.has(r.path) && !s.shown.includes(parent)) {
      hidden.add(r.path);
      folded.set(parent, [...(folded.get(parent) ?? []), r]);
      continue;
    }
    out.push(r);
  }
  return { rows: out, folded };
}

export interface Line {
  key: string;
  row: ShapeRow;
  folded?: ShapeRow[];
}

/** The rows as lines of the table: after the last row inside a parent comes what is folded of it, innermost first. */
export function lines({ rows, folded }: ReturnType<typeof visible>): Line[] {
  const out: Line[] = [];
  const open: ShapeRow[] = [];
  rows.forEach((row, i) => {
    out.push({ key: row.path, row });
    open.push(row);
    const next = rows[i + 1]?.depth ?? -1;
    while (open.length && open[open.length - 1].depth >= next) {
      const ended = open.pop()!;
      const rest = folded.get(ended.path);
      if (rest) out.push({ key: `${ended.path} …`, row: ended, folded: rest });
    }
  });
  return out;
}
