import type { StepOf } from '../../../api/types';

type Known = NonNullable<StepOf<'query'>['parameters']>;

/** Parameters as the statement names them, with the values they have. */
export function parametersOf(sql: string, known: Known): Known {
  const outside = sql.replace(/'(?:[^']|'')*'|"(?:[^"]|"")*"|--.*|::/g, ' ');
  const names = [...new Set([...outside.matchAll(/:([A-Za-z]\w*)/g)].map((m) => m[1]))];
  return names.map((name) => known.find((p) => p.name === name) ?? { name });
}
