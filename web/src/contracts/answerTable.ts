import type { Tree } from '../api/types';

/** Where the rows of an answer could be: a path of names from the answer's root, and how many elements it leads to. */
export interface RowPlace {
  path: string;
  count: number;
}

const isElement = (t: Tree) => !t.name.startsWith('@');
const holdsMore = (t: Tree) => (t.children ?? []).length > 0;

/** All elements with content, repeated ones first, the most numerous at the top. An empty path is the whole answer. */
export function rowPlaces(root: Tree): RowPlace[] {
  const counts = new Map<string, number>();
  const walk = (t: Tree, path: string) =>
    (t.children ?? []).filter(isElement).forEach((c) => {
      const at = path ? `${path}/${c.name}` : c.name;
      if (holdsMore(c) || (t.children ?? []).filter((x) => x.name === c.name).length > 1)
        counts.set(at, (counts.get(at) ?? 0) + 1);
      walk(c, at);
    });
  walk(root, '');
  const all = [...counts].map(([path, count]) => ({ path, count }));
  return [
    ...all.filter((p) => p.count > 1).sort((a, b) => b.count - a.count),
    ...all.filter((p) => p.count === 1),
    { path: '', count: 1 },
  ];
}

export interface AnswerTable {
  columns: string[];
  rows: (string | undefined)[][];
}

/** One line for each element at the path; a column for each value in it, repeated inner values joined. */
export function tableOf(root: Tree, path: string): AnswerTable {
  const found =
    path === ''
      ? [root]
      : path
          .split('/')
          .reduce<Tree[]>((at, name) => at.flatMap((t) => (t.children ?? []).filter((c) => c.name === name)), [root]);
  const columns: string[] = [];
  const index = new Map<string, number>();
  const rows = found.map((t) => {
    const row: (string | undefined)[] = [];
    const put = (column: string, value: string) => {
      let i = index.get(column);
      if (i === undefined) {
        i = columns.length;
        index.set(column, i);
        columns.push(column);
      }
      row[i] = row[i] === undefined ? value : `${row[i]}, ${value}`;
    };
    const walk = (n: Tree, at: string) => {
      if (n.text !== undefined && (at || !n.children)) put(at || n.name, n.text);
      (n.children ?? []).forEach((c) => walk(c, at ? `${at}/${c.name}` : c.name));
    };
    if (t.kind) put('kind', t.kind);
    walk(t, '');
    return row;
  });
  return { columns, rows };
}
