import type { FormField } from '../api/types';

/** A file that was chosen, ready to be sent. */
export interface ChosenFile {
  name: string;
  /** As Base64. */
  content: string;
}

/** What is filled in: a text for a value, a list of texts, others inside, or a file. */
export type Filled = string | string[] | Values | Values[] | ChosenFile;

export interface Values {
  [name: string]: Filled | undefined;
}

const ZONE = /(Z|[+-]\d\d:\d\d)$/;

/** Whether moments of a field have a zone: then they are shown as here, and sent with ours. */
export const isZoned = (f: FormField) => f.kind === 'dateTime' && ZONE.test(f.value ?? f.example ?? '');

const two = (n: number) => String(n).padStart(2, '0');

/** A value of XML Schema as the browser's fields want it. */
export function shownValue(f: FormField, value: string): string {
  if (f.kind === 'date') return value.slice(0, 10);
  if (f.kind === 'time') return value.slice(0, 5);
  if (f.kind !== 'dateTime') return value;
  if (!ZONE.test(value)) return value.slice(0, 16);
  const d = new Date(value);
  return `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}T${two(d.getHours())}:${two(d.getMinutes())}`;
}

function withZone(local: string): string {
  const minutes = -new Date(local).getTimezoneOffset();
  const away = Math.abs(minutes);
  return `${local}${minutes < 0 ? '-' : '+'}${two(Math.floor(away / 60))}:${two(away % 60)}`;
}

/** What stands in a form at first. */
export function begun(fields: FormField[]): Values {
  const out: Values = {};
  for (const f of fields) {
    if (f.kind === 'group') out[f.name] = f.many ? (f.required ? [begun(f.fields ?? [])] : []) : begun(f.fields ?? []);
    else if (f.many) out[f.name] = f.choices ? [] : '';
    else if (f.kind !== 'file' && f.kind !== 'rows') out[f.name] = f.value ? shownValue(f, f.value) : '';
  }
  return out;
}

/** As XML Schema has it: decimals are typed with a comma, too. */
function plain(f: FormField, typed: string): string {
  const t = f.kind === 'text' || f.kind === 'lines' ? typed : typed.trim();
  if (f.kind === 'number' && /^[+-]?\d+,\d+$/.test(t)) return t.replace(',', '.');
  if (f.kind === 'time' && /^\d\d:\d\d$/.test(t)) return `${t}:00`;
  if (f.kind === 'dateTime' && /^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(t)) {
    return isZoned(f) ? withZone(`${t}:00`) : `${t}:00`;
  }
  return t;
}

const NUMBER = /^-?(0|[1-9]\d*)(\.\d+)?([eE][+-]?\d+)?$/;
const DECIMAL = /^[+-]?(\d+(\.\d*)?|\.\d+)([eE][+-]?\d+)?$/;

/** A value as JSON; a number keeps how it is written. */
function json(f: FormField, typed: string): string {
  const t = plain(f, typed);
  if (f.kind === 'number' || f.kind === 'integer') {
    const number = t.replace(/^\+/, '').replace(/^(-?)0+(?=\d)/, '$1');
    return NUMBER.test(number) ? number : JSON.stringify(t);
  }
  if (f.kind === 'truth') return t === 'true' ? 'true' : 'false';
  if (f.kind === 'json') {
    try {
      JSON.parse(t);
      return t;
    } catch {
      return JSON.stringify(t);
    }
  }
  return JSON.stringify(t);
}

const listOf = (value: Filled | undefined): string[] =>
  Array.isArray(value)
    ? (value as string[])
    : typeof value === 'string'
      ? value.split('\n').filter((line) => line.trim())
      : [];

function members(fields: FormField[], values: Values): string {
  const out: string[] = [];
  for (const f of fields) {
    const v = values[f.name];
    const name = `${JSON.stringify(f.name)}:`;
    if (f.kind === 'file' || f.kind === 'rows') continue;
    if (f.kind === 'group') {
      const inside = (g: Values) => `{${members(f.fields ?? [], g)}}`;
      if (f.many) {
        const all = (v as Values[]) ?? [];
        if (all.length > 0) out.push(`${name}[${all.map(inside).join(',')}]`);
      } else {
        const text = inside((v as Values) ?? {});
        if (text !== '{}' || f.required) out.push(name + text);
      }
    } else if (f.many) {
      const all = listOf(v);
      if (all.length > 0) out.push(`${name}[${all.map((x) => json(f, x)).join(',')}]`);
    } else if (typeof v === 'string' && v !== '') out.push(name + json(f, v));
  }
  return out.join(',');
}

/** What is sent: values as JSON, and files beside them. */
export function bodyOf(fields: FormField[], values: Values): string {
  const files = fields
    .filter((f) => f.kind === 'file' || f.kind === 'rows')
    .flatMap((f) => (values[f.name] ? [`${JSON.stringify(f.name)}:${JSON.stringify(values[f.name])}`] : []));
  return `{"inputs":{${members(fields, values)}}${files.length > 0 ? `,"files":{${files.join(',')}}` : ''}}`;
}

/** What does not fit, by the paths of fields. */
export type Problems = Record<string, string>;

function limits(f: FormField, t: string): string | undefined {
  if ((f.kind === 'number' || f.kind === 'integer') && !DECIMAL.test(t)) return 'is no number';
  if (f.kind === 'integer' && !/^[+-]?\d+$/.test(t)) return 'is no whole number';
  if (f.kind === 'number' || f.kind === 'integer') {
    if (f.least !== undefined && Number(t) < Number(f.least)) return `is at least ${f.least}`;
    if (f.most !== undefined && Number(t) > Number(f.most)) return `is at most ${f.most}`;
  } else if (f.kind === 'date' || f.kind === 'dateTime' || f.kind === 'time') {
    // Without zones these compare as texts do.
    if (f.least !== undefined && t < f.least) return `is ${f.least} at the earliest`;
    if (f.most !== undefined && t > f.most) return `is ${f.most} at the latest`;
  }
  if (f.length !== undefined && [...t].length > f.length) return `has at most ${f.length} characters`;
  if (f.pattern !== undefined && !fits(f.pattern, t))
    return f.example ? `is written like ${f.example}` : 'does not fit';
  return undefined;
}

/** A pattern of XML Schema that JavaScript does not know is left to the server. */
function fits(pattern: string, text: string): boolean {
  try {
    return new RegExp(`^(?:${pattern})$`, 'u').test(text);
  } catch {
    return true;
  }
}

/** What can be seen to be wrong before anything is sent. */
export function problemsOf(fields: FormField[], values: Values, at = ''): Problems {
  const out: Problems = {};
  for (const f of fields) {
    const path = `${at}${f.name}`;
    const v = values[f.name];
    if (f.kind === 'group' && f.many) {
      const all = (v as Values[]) ?? [];
      if (f.required && all.length === 0) out[path] = 'is missing';
      all.forEach((g, n) => Object.assign(out, problemsOf(f.fields ?? [], g, `${path}/${n}/`)));
    } else if (f.kind === 'group') {
      const inside = problemsOf(f.fields ?? [], (v as Values) ?? {}, `${path}/`);
      // What may be left out is looked at once something is in it.
      if (f.required || members(f.fields ?? [], (v as Values) ?? {}) !== '') Object.assign(out, inside);
    } else if (f.kind === 'file' || f.kind === 'rows') {
      if (f.required && !v) out[path] = 'is missing: choose a file';
    } else {
      const all = f.many ? listOf(v) : typeof v === 'string' && v !== '' ? [v] : [];
      if (f.required && all.length === 0) out[path] = 'is missing';
      for (const one of all) {
        const wrong = limits(f, plain(f, one));
        if (wrong) out[path] = f.many ? `“${one}” ${wrong}` : wrong;
      }
    }
  }
  return out;
}

interface Told {
  at: string;
  is?: string;
  text: string;
}

/** What the server found, at the fields where it can be mended; the rest is under an empty path. */
export function problemsAt(fields: FormField[], told: Told[]): Problems {
  const out: Problems = {};
  for (const p of told) {
    const [name, ...rest] = p.at.replace(/^\//, '').split('/').map(unescaped);
    const f = fields.find((x) => x.name === name);
    const isAFile = f?.kind === 'rows' || f?.kind === 'file';
    const place = f === undefined ? '' : isAFile || f.kind !== 'group' ? name : [name, ...rest].join('/');
    const where = f === undefined ? p.at : isAFile && rest.length > 0 ? rowWords(rest) : '';
    const value = p.is !== undefined && !p.text.includes(p.is) ? `“${p.is}” ` : '';
    const words = `${where ? `${where} ` : ''}${value}${p.text}`.trim();
    out[place] = out[place] ? `${out[place]}; ${words}` : words;
  }
  return out;
}

const unescaped = (s: string) => s.replace(/~1/g, '/').replace(/~0/g, '~');

const rowWords = ([row, ...field]: string[]) =>
  `row ${Number(row) + 1}${field.length > 0 ? `, ${field.join(' ')}` : ''}:`;
