import type { Input, PageColumn, PageField, PageTrigger, ShownField } from '../api/types';

/** A page's own name, of the flow's. */
export const pageNameOf = (flowName: string) =>
  flowName
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 60);

/** A page as it begins: the flow's name is what it is for. */
export const freshPage = (flowName: string, open?: boolean, text?: string): PageTrigger => ({
  page: pageNameOf(flowName),
  title: flowName,
  text,
  open,
});

/** What is said of an input; nothing at first. */
export const fieldOf = (page: PageTrigger, input: string): PageField =>
  page.fields?.find((f) => f.input === input) ?? { input };

const isSaid = (f: PageField) => !!(f.label || f.unit || f.help || f.as || f.value || f.choices?.length);

/** With something else said of an input; where nothing is, it is asked for as it is. */
export function withField(page: PageTrigger, input: string, change: Partial<PageField>): PageTrigger {
  const to = { ...fieldOf(page, input), ...change };
  const all = page.fields ?? [];
  const isThere = all.some((f) => f.input === input);
  const fields = isThere ? all.map((f) => (f.input === input ? to : f)) : [...all, to];
  return { ...page, fields: fields.filter((f) => isSaid(f)) };
}

/** Inputs with those inside of them, by their paths. */
export const inputPaths = (inputs: Input[], at = ''): { path: string; input: Input }[] =>
  inputs.flatMap((i) => [
    { path: at + i.name, input: i },
    ...(i.fields ? inputPaths(i.fields, `${at}${i.name}/`) : []),
  ]);

/** Whether a file can be chosen for an input: its text, its bytes, or its rows. */
export const canBeFile = (path: string, i: Input) =>
  !path.includes('/') &&
  (i.fields ? !!i.many : !i.many && ['string', 'base64Binary'].includes(i.type ?? 'string') && !i.choices);

/** Whether an input is a text that may be long. */
export const canBeLines = (i: Input) => !i.fields && !i.many && (i.type ?? 'string') === 'string' && !i.choices;

export const columnOf = (page: PageTrigger, path: string): PageColumn =>
  page.result?.columns?.find((c) => c.path === path) ?? { path };

/** With something else said of a field of the reply. */
export function withColumn(page: PageTrigger, path: string, change: Partial<PageColumn>): PageTrigger {
  const to = { ...columnOf(page, path), ...change };
  const others = (page.result?.columns ?? []).filter((c) => c.path !== path);
  const columns = to.label || to.unit || to.as ? [...others, to] : others;
  return { ...page, result: { ...page.result, columns } };
}

const paths = (fields: ShownField[], at = ''): string[] =>
  fields.flatMap((f) => [at + f.name, ...(f.fields ? paths(f.fields, `${at}${f.name}/`) : [])]);

/** Fields of the reply, also those that are not shown. */
export const replyPaths = (page: PageTrigger, shown: ShownField[] | undefined): string[] => [
  ...new Set([
    ...paths(shown ?? []),
    ...(page.result?.columns ?? []).filter((c) => c.as === 'HIDDEN').map((c) => c.path),
  ]),
];

/** Words for choices, as they are typed: a line each, the value and what it is called. */
export const choicesOf = (text: string): PageField['choices'] =>
  text
    .split('\n')
    .map((line) => /^([^=]*)=?(.*)$/.exec(line)?.slice(1) ?? [])
    .map(([value = '', label = '']) => ({ value: value.trim(), label: label.trim() || undefined }))
    .filter((c) => c.value);

export const choicesText = (f: PageField) =>
  (f.choices ?? []).map((c) => (c.label ? `${c.value} = ${c.label}` : c.value)).join('\n');

/** The address of a link: its key is behind the #, which is sent to no server on the way. */
export const linkAddress = (url: string, key: string) => `${url}#k=${key}`;
