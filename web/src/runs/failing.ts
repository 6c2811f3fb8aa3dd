import type { FlowView, Rule } from '../api/types';

/** The source fields behind rows that do not fit, so that what has to be mended can be shown first. */
export function failing(flow: FlowView | undefined, codes: string[]): string[] {
  const rows = new Set(
    codes.filter((c) => c.endsWith(' does not fit')).map((c) => c.slice(0, -' does not fit'.length)),
  );
  const rules = fills(flow?.definition.steps);
  const names = rules
    .filter((r) => r.xpath && rows.has(r.path.slice(r.path.lastIndexOf('/') + 1)))
    .flatMap(
      (r) => r.xpath!.replace(/'[^']*'|"[^"]*"/g, '').match(/[\p{L}_][\p{L}\p{N}_.-]*(?![\p{L}\p{N}_.:(-])/gu) ?? [],
    );
  return [...new Set(names)];
}

/** The rules of all calls, in whatever block they are. */
function fills(definition: unknown): Rule[] {
  if (Array.isArray(definition)) return definition.flatMap(fills);
  if (!definition || typeof definition !== 'object') return [];
  const { fill, ...rest } = definition as { fill?: Rule[] };
  return [...(fill ?? []), ...Object.values(rest).flatMap(fills)];
}
