import type { FlowView, Tray, Waiting } from '../api/types';
import { failing } from './failing';

/** Of one step when it is given, otherwise of all. */
export const ofStep = <T extends { step: string }>(all: T[] | undefined, step?: string): T[] =>
  (all ?? []).filter((x) => step === undefined || x.step === step);

/** Those that were chosen; when none is, those that were mended and may be sent by anybody. */
export const toSend = (records: Waiting[], chosen: ReadonlySet<number>): number[] =>
  chosen.size ? [...chosen] : records.filter((r) => r.original && !r.inDoubt).map((r) => r.number);

/** Calls of these records that were answered and would be made again. */
export const answeredOf = (records: Waiting[], numbers: number[]) =>
  records.filter((r) => numbers.includes(r.number)).reduce((n, r) => n + r.answered, 0);

/** The fields of the records, those that have to be mended first. */
export function fieldsOf(records: Waiting[], reasons: Tray['reasons'], flow?: FlowView): string[] {
  const named = new Set(records.flatMap((r) => Object.keys(r.record)));
  const first = failing(
    flow,
    reasons.map((r) => r.code),
  ).filter((f) => named.has(f));
  return [...new Set([...first, ...named])];
}

/** Which parts of the record a path leads through, in words; empty when through none. */
export const partsOf = (path: string): string => [...path.matchAll(/\[(\d+)\]/g)].map((m) => `part ${m[1]}`).join(', ');
