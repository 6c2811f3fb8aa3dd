import type { Api } from '../../api/types';

export type HandMade = Api<'HandMade'>;
export type HandOperation = Api<'HandOperation'>;
export type HandParameter = Api<'HandParameter'>;
export type Sample = Api<'Sample'>;
export type Guess = Api<'Guess'>;
export type FieldType = HandParameter['type'];

export const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS'];
export const TYPES: { value: FieldType; label: string }[] = [
  { value: 'TEXT', label: 'text' },
  { value: 'INTEGER', label: 'whole number' },
  { value: 'NUMBER', label: 'number' },
  { value: 'TRUTH', label: 'true or false' },
  { value: 'DATE', label: 'date' },
  { value: 'DATE_TIME', label: 'date and time' },
];
export const FORMS: { value: Sample['form']; label: string }[] = [
  { value: 'JSON', label: 'JSON' },
  { value: 'XML', label: 'XML' },
  { value: 'FORM', label: 'a form' },
  { value: 'TEXT', label: 'text' },
];

export const newOperation = (others: HandOperation[]): HandOperation => {
  const names = others.map((o) => o.name);
  let n = others.length + 1;
  while (names.includes(`operation${n}`)) n++;
  return { name: `operation${n}`, method: 'GET', path: '/', parameters: [], answer: { form: 'JSON' } };
};

/** What a path names in braces. */
export const variables = (path: string) => [...path.matchAll(/\{([^{}/]+)\}/g)].map((m) => m[1]);

/** Whether a method usually has a body. */
export const hasBody = (method: string) => /^(POST|PUT|PATCH)$/.test(method);

/** The parameters as they are shown: first those of the path, which are there because it names them. */
export function shownParameters(o: HandOperation): HandParameter[] {
  const given = o.parameters ?? [];
  const ofPath = variables(o.path).map(
    (name) =>
      given.find((p) => p.in === 'PATH' && p.name === name) ?? {
        in: 'PATH' as const,
        name,
        type: 'TEXT' as const,
        required: true,
        repeated: false,
      },
  );
  return [...ofPath, ...given.filter((p) => p.in !== 'PATH')];
}

/** A sample with one of its fields told otherwise than it was guessed. */
export function told(sample: Sample, guess: Guess, change: { type?: FieldType; required?: boolean }): Sample {
  const before = sample.fields?.find((f) => f.path === guess.path) ?? {
    path: guess.path,
    type: guess.type ?? 'TEXT',
    required: guess.required,
  };
  const others = (sample.fields ?? []).filter((f) => f.path !== guess.path);
  return { ...sample, fields: [...others, { ...before, ...change }] };
}

/** An operation as it can be kept: what the path names no more is gone. */
export const tidy = (o: HandOperation): HandOperation => ({
  ...o,
  name: o.name.trim(),
  path: o.path.trim().replace(/^(?!\/)/, '/'),
  parameters: shownParameters(o)
    .map((p) => ({ ...p, name: p.name.trim() }))
    .filter((p) => p.name),
  body: hasBody(o.method) || o.body?.text?.trim() ? o.body : undefined,
});
