import type {
  EndpointChange,
  EndpointView,
  FolderTrigger,
  HttpTrigger,
  Input,
  MessagePlace,
  PageTrigger,
  QueueTrigger,
  RowsTrigger,
  RunTrigger,
  SoapTrigger,
} from '../api/types';
import { freshPage } from './page';

/** An endpoint as it is being written: asked by HTTP, SOAP, messages, files, rows, runs that end, or on a page. */
export interface EndpointDraft {
  name: string;
  flow?: number;
  environment: string;
  http?: HttpTrigger;
  soap?: SoapTrigger;
  queue?: QueueTrigger;
  folder?: FolderTrigger;
  rows?: RowsTrigger;
  after?: RunTrigger;
  page?: PageTrigger;
  version?: number;
  on: boolean;
}

export const METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'];

/** @param operation of a contract, which the flow answers by SOAP */
export function freshEndpoint(environment: string, flow?: number, flowName = '', operation?: string): EndpointDraft {
  const begun: EndpointDraft = {
    name: flowName,
    flow,
    environment,
    http: { method: 'POST', path: pathOf(flowName) },
    on: true,
  };
  return operation ? askedBy(begun, 'soap', flowName, operation) : begun;
}

export const endpointDraftOf = (e: EndpointView): EndpointDraft => ({
  name: e.name,
  flow: e.flow,
  environment: e.environment,
  http: e.http,
  soap: e.soap,
  queue: e.queue,
  folder: e.folder,
  rows: e.rows,
  after: e.after,
  page: e.page,
  version: e.version,
  on: e.on,
});

/** How something is asked. */
export type Way = 'http' | 'soap' | 'queue' | 'folder' | 'rows' | 'after' | 'page';

export const WAYS: Way[] = ['http', 'soap', 'queue', 'folder', 'rows', 'after', 'page'];

/** In a list. */
export const WAY_WORDS: Record<Way, string> = {
  http: 'HTTP',
  soap: 'SOAP',
  queue: 'queues',
  folder: 'folders',
  rows: 'rows',
  after: 'after runs',
  page: 'pages',
};

export const wayOf = (e: Partial<Record<Way, unknown>>): Way => WAYS.find((w) => e[w]) ?? 'http';

/**
 * Asked another way; what was said already is kept as far as it is the same.
 *
 * @param broker the connection to the only one there is
 */
export function askedBy(d: EndpointDraft, way: Way, flowName: string, operation?: string, broker = ''): EndpointDraft {
  const { open } = d.http ?? d.soap ?? d.page ?? {};
  const { text } = d.http ?? d.soap ?? d.queue ?? d.folder ?? d.rows ?? d.after ?? d.page ?? {};
  const none = Object.fromEntries(WAYS.map((w) => [w, undefined])) as Record<Way, undefined>;
  const others = { ...d, ...none };
  if (way === 'http') return { ...others, http: { method: 'POST', path: pathOf(flowName), open, text } };
  if (way === 'queue') return { ...others, queue: { connection: broker, queue: '', text } };
  if (way === 'rows') return { ...others, rows: { connection: '', query: '', column: '', text } };
  if (way === 'page') return { ...others, page: freshPage(flowName, open, text) };
  if (way === 'after') return { ...others, after: { flow: 0, outcomes: [...OUTCOMES], text } };
  if (way === 'folder') return { ...others, folder: { folder: pathOf(flowName).slice(1), pattern: '*', text } };
  return { ...others, soap: { service: wordOf(flowName), operation: operation ?? wordOf(flowName), open, text } };
}

/** A name as services have them: GetTideWindow. */
export const wordOf = (name: string) =>
  name
    .split(/[^A-Za-z0-9]+/)
    .filter((w) => w)
    .map((w) => w[0].toUpperCase() + w.slice(1))
    .join('')
    .replace(/^(?=\d)/, 'S');

export const OUTCOMES = ['DONE', 'ASIDE', 'STOPPED'] as const;

export const OUTCOME_WORDS = { DONE: 'done', ASIDE: 'some aside', STOPPED: 'stopped' };

/** Where it is asked, as it is read in lists. */
export function whereOf(e: Pick<EndpointView, Way> & { afterName?: string }): string {
  if (e.http) return `${e.http.method} ${e.http.path}`;
  if (e.soap) return `/soap/${e.soap.service} ${e.soap.operation}`;
  if (e.folder) return `${e.folder.folder}/${e.folder.pattern ?? '*'}`;
  if (e.rows) return `rows of ${e.rows.connection} by ${e.rows.column}`;
  if (e.page) return `/pages/${e.page.page}`;
  if (e.after) return `runs of ${e.afterName}${outcomesOf(e.after)}`;
  return `${e.queue?.queue}${e.queue?.replies ? ` → ${e.queue.replies}` : ''}`;
}

/** Those of which it is told, where that is not all. */
const outcomesOf = ({ outcomes }: RunTrigger) =>
  !outcomes || outcomes.length === OUTCOMES.length ? '' : `: ${outcomes.map((o) => OUTCOME_WORDS[o]).join(', ')}`;

/** A path as it could be: of the flow's name. */
export const pathOf = (name: string) =>
  '/' +
  name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');

/** What the server is told; nothing before it could be. */
export const endpointChangeOf = (d: EndpointDraft): EndpointChange | undefined =>
  d.flow === undefined || !d.name.trim() || !isAsked(d)
    ? undefined
    : {
        flow: d.flow,
        environment: d.environment,
        http: d.http,
        soap: d.soap,
        queue: d.queue,
        folder: d.folder,
        rows: d.rows,
        after: d.after,
        page: d.page,
        version: d.version,
        on: d.on,
      };

function isAsked({ http, soap, queue, folder, rows, after, page }: EndpointDraft): boolean {
  if (page) return !!page.page.trim() && !!page.title.trim();
  if (http) return http.path.length > 1;
  if (soap) return !!soap.service.trim() && !!soap.operation.trim();
  if (folder) return !!folder.folder.trim();
  if (rows) return !!rows.connection && !!rows.query.trim() && !!rows.column.trim();
  return after ? !!after.flow && !!after.outcomes?.length : !!queue?.connection && !!queue.queue.trim();
}

export type Where = 'PATH' | 'QUERY' | 'HEADER' | 'BODY';

/** Where an input comes from, and its name there. */
export function placeOf(http: HttpTrigger, input: string): { in: Where; name: string } {
  const said = http.places?.find((p) => p.input === input);
  const names = [...http.path.matchAll(/\{([^}]+)\}/g)].map((m) => m[1]);
  const usual: Where = names.includes(input)
    ? 'PATH'
    : http.method === 'GET' || http.method === 'DELETE'
      ? 'QUERY'
      : 'BODY';
  return { in: said?.in ?? usual, name: said?.name ?? input };
}

/** With an input coming from elsewhere; what is usual is not said. */
export function placed(http: HttpTrigger, input: string, to: { in: Where; name: string }): HttpTrigger {
  const others = (http.places ?? []).filter((p) => p.input !== input);
  const usual = placeOf({ ...http, places: others }, input);
  const isUsual = usual.in === to.in && (to.name === input || !to.name);
  return {
    ...http,
    places: isUsual
      ? others
      : [...others, { input, in: to.in, ...(to.name && to.name !== input ? { name: to.name } : {}) }],
  };
}

export type Part = 'BODY' | 'WHOLE' | 'PROPERTY';

/** What takes things by itself says where inputs come from. */
interface Taker {
  places?: MessagePlace[];
}

/** Where an input comes from in a message or a file, and the name of the property. */
export function partOf(taker: Taker, input: string): { in: Part; name: string } {
  const said = taker.places?.find((p) => p.input === input);
  return { in: said?.in ?? 'BODY', name: said?.name ?? input };
}

/** With an input coming from elsewhere; members of the body are not said. */
export const parted = <T extends Taker>(taker: T, input: string, to: { in: Part; name: string }): T => ({
  ...taker,
  places: [
    ...(taker.places ?? []).filter((p) => p.input !== input),
    ...(to.in === 'BODY' ? [] : [{ input, in: to.in, ...(to.in === 'PROPERTY' ? { name: to.name || input } : {}) }]),
  ],
});

/** What came of trying, in words, and whether it is good. */
export function outcomeOf(way: Way, status: number): { words: string; mood: 'ok' | 'warn' | 'bad' } {
  const mood = status < 400 ? 'ok' : status < 500 ? 'warn' : 'bad';
  if (way === 'http' || way === 'soap') return { words: String(status), mood };
  const words =
    status === 200 ? 'answered' : status < 400 ? 'done, without an answer' : status === 504 ? 'no answer' : 'failed';
  return { words, mood };
}

const NUMBER = /^-?(0|[1-9]\d*)(\.\d+)?([eE][+-]?\d+)?$/;
const NUMBERS = new Set(['integer', 'decimal', 'double', 'float', 'int', 'long', 'short']);

/** What is typed for an input as JSON; what is none of its type is sent as the text it is, to see what is answered. */
function valueOf(i: Input | undefined, typed: string): unknown {
  const t = typed.trim();
  if (i?.type === 'nested' || i?.type === 'json' || i?.many) {
    try {
      return JSON.parse(t);
    } catch {
      return typed;
    }
  }
  if (NUMBERS.has(i?.type ?? '') && NUMBER.test(t)) return raw(t);
  if (i?.type === 'boolean' && (t === 'true' || t === 'false')) return t === 'true';
  return typed;
}

/** A number that keeps how it is written. */
const raw = (t: string) => ({ [RAW]: t });
const RAW = '\u0001raw';

/** The typed values as a sample; those that are empty are not given. */
export function sampleOfTyped(inputs: Input[], typed: Record<string, string>): string {
  const values = Object.fromEntries(
    Object.entries(typed)
      .filter(([, v]) => v !== '')
      .map(([name, v]) => [
        name,
        valueOf(
          inputs.find((i) => i.name === name),
          v,
        ),
      ]),
  );
  return JSON.stringify(values, null, 2).replace(/\{\s*"\\u0001raw":\s*"([^"]*)"\s*\}/g, '$1');
}

/** A sample's values as they are typed. */
export function typedOf(json: string | undefined): Record<string, string> {
  try {
    const given = JSON.parse(json ?? '{}') as Record<string, unknown>;
    return Object.fromEntries(
      Object.entries(given).map(([name, v]) => [
        name,
        typeof v === 'string'
          ? v
          : v === null
            ? ''
            : typeof v === 'object'
              ? JSON.stringify(v)
              : numberText(json, name, v),
      ]),
    );
  } catch {
    return {};
  }
}

/** As it is written: 7.20 stays 7.20. */
function numberText(json: string | undefined, name: string, v: unknown): string {
  const written = new RegExp(`${JSON.stringify(name).replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}\\s*:\\s*(-?[\\d.eE+-]+)`);
  return (typeof v === 'number' && written.exec(json ?? '')?.[1]) || String(v);
}

/** Microseconds as people read them. */
export function brief(micros: number | undefined): string {
  if (micros === undefined) return '';
  if (micros < 1_000) return '< 1 ms';
  if (micros < 1_000_000) return `${Math.round(micros / 1_000)} ms`;
  return `${(micros / 1_000_000).toFixed(1)} s`;
}

/** What of all answers failed, in words: 0.3 %. */
export function share(part: number, all: number): string {
  if (all === 0) return '';
  const percent = (100 * part) / all;
  return percent === 0
    ? '0'
    : percent < 0.1
      ? '< 0.1 %'
      : `${percent < 10 ? percent.toFixed(1) : Math.round(percent)} %`;
}

/** What limits an input, in words. */
export function typeWords(i: Input): string {
  const limit = i.choices
    ? i.choices.slice(0, 4).join(' | ') + (i.choices.length > 4 ? ' | …' : '')
    : i.least != null && i.most != null
      ? `${i.least}–${i.most}`
      : (i.pattern ?? (i.length != null ? `(${i.length})` : ''));
  return `${i.type ?? 'string'}${i.many ? ' list' : ''}${limit ? ` ${limit}` : ''}`;
}
