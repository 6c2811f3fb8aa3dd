import type { Input } from '../../../api/types';

export const TYPES = [
  'string',
  'integer',
  'decimal',
  'double',
  'boolean',
  'date',
  'dateTime',
  'time',
  'nested',
  'json',
];
export const isNested = (i: Input) => i.type === 'nested';
export const isText = (i: Input) => !i.type || i.type === 'string' || i.type === 'anyURI';
const isOrdered = (i: Input) => !isText(i) && !isNested(i) && i.type !== 'json' && i.type !== 'boolean';

/** An input with its place in the tree, as it is shown. */
export interface InputRow {
  input: Input;
  /** Which of the outermost, which inside of that, and so on. */
  at: number[];
}

export const rowsOf = (inputs: Input[], around: number[] = []): InputRow[] =>
  inputs.flatMap((input, n) => [{ input, at: [...around, n] }, ...rowsOf(input.fields ?? [], [...around, n])]);

/** The inputs with the one at that place changed, or taken out. */
export function changed(inputs: Input[], at: number[], by: (i: Input) => Input | null): Input[] {
  const [first, ...rest] = at;
  return inputs.flatMap((i, n) => {
    if (n !== first) return [i];
    const to = rest.length === 0 ? by(i) : { ...i, fields: changed(i.fields ?? [], rest, by) };
    return to ? [to] : [];
  });
}

/** One more at the end; inside of another if that is said. */
export function added(inputs: Input[], inside?: number[]): Input[] {
  if (inside) return changed(inputs, inside, (i) => ({ ...i, fields: added(i.fields ?? []) }));
  const names = new Set(inputs.map((i) => i.name));
  let n = 1;
  while (names.has(`input_${n}`)) n++;
  return [...inputs, { name: `input_${n}`, type: 'string' }];
}

/** Of another type: what that has no use for goes. */
export function retyped(i: Input, type: string): Input {
  const to: Input = { ...i, type };
  if (!isNested(to)) delete to.fields;
  if (!isOrdered(to)) {
    delete to.least;
    delete to.most;
  }
  if (!isText(to)) {
    delete to.length;
    delete to.pattern;
  }
  delete to.choices;
  return to;
}

/** Limits as they are typed: 0–30, at most 5, one of a, b, like [A-Z]{5}. */
export function limitsOf(i: Input): string {
  if (i.choices?.length) return `one of ${i.choices.join(', ')}`;
  if (i.pattern) return `like ${i.pattern}`;
  if (i.length != null) return `at most ${i.length}`;
  if (i.least != null && i.most != null) return `${i.least}–${i.most}`;
  if (i.least != null) return `from ${i.least}`;
  return i.most != null ? `to ${i.most}` : '';
}

/** The other way round; undefined for what cannot be read. */
export function withLimits(i: Input, typed: string): Input | undefined {
  const { choices, pattern, length, least, most, ...plain } = i;
  void [choices, pattern, length, least, most];
  const t = typed.trim();
  if (!t) return plain;
  const one = /^one of (.+)$/s.exec(t);
  if (one) return { ...plain, choices: one[1].split(',').map((c) => c.trim()) };
  const like = /^like (\S.*)$/.exec(t);
  if (like && isText(i)) return { ...plain, pattern: like[1] };
  const longest = /^at most (\d+)$/.exec(t);
  if (longest && isText(i)) return { ...plain, length: Number(longest[1]) };
  if (!isOrdered(i)) return undefined;
  const range = /^(\S+)\s*(?:–|\.\.)\s*(\S+)$/.exec(t);
  if (range) return { ...plain, least: range[1], most: range[2] };
  const from = /^from (\S+)$/.exec(t);
  if (from) return { ...plain, least: from[1] };
  const to = /^to (\S+)$/.exec(t);
  return to ? { ...plain, most: to[1] } : undefined;
}

const DAY = /^\d{4}-\d\d-\d\d$/;
const MOMENT = /^\d{4}-\d\d-\d\dT\d\d:\d\d/;
const MOST_INSIDE = 200;

function typeOf(value: unknown): string {
  if (typeof value === 'number') return Number.isInteger(value) ? 'integer' : 'decimal';
  if (typeof value === 'boolean') return 'boolean';
  if (typeof value === 'string') return DAY.test(value) ? 'date' : MOMENT.test(value) ? 'dateTime' : 'string';
  return 'json';
}

/** The inputs that a sample has: as far as one sample can tell. */
export function inputsOf(sample: Record<string, unknown>): Input[] {
  return Object.entries(sample)
    .slice(0, MOST_INSIDE)
    .map(([name, given]) => {
      const many = Array.isArray(given);
      const value: unknown = many ? given[0] : given;
      const of: Input =
        value !== null && typeof value === 'object' && !Array.isArray(value)
          ? { name, type: 'nested', fields: inputsOf(value as Record<string, unknown>) }
          : { name, type: value === null || value === undefined ? 'string' : typeOf(value) };
      if (given !== null) of.required = true;
      if (many) of.many = true;
      return of;
    });
}

const USUAL: Record<string, unknown> = {
  integer: 1,
  decimal: 1,
  double: 1,
  boolean: true,
  date: '2031-04-02',
  dateTime: '2031-04-02T21:40:00Z',
  time: '21:40:00',
  json: null,
};

/** Something that fits, to be made a real one. */
export function sampleOf(inputs: Input[]): Record<string, unknown> {
  return Object.fromEntries(
    inputs
      .filter((i) => i.required)
      .map((i) => {
        const least = i.least != null && !Number.isNaN(Number(i.least)) ? Number(i.least) : i.least;
        const one = isNested(i) ? sampleOf(i.fields ?? []) : (i.choices?.[0] ?? least ?? USUAL[i.type ?? ''] ?? 'text');
        return [i.name, i.many ? [one] : one];
      }),
  );
}

/** A sample's object; undefined when the text is none. */
export function parsed(json: string): Record<string, unknown> | undefined {
  try {
    const value: unknown = JSON.parse(json);
    return value !== null && typeof value === 'object' && !Array.isArray(value)
      ? (value as Record<string, unknown>)
      : undefined;
  } catch {
    return undefined;
  }
}
