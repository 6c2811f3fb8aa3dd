import type { Api } from '../api/types';

type Tree = Api<'Tree'>;
export type Rule = Api<'ErrorRuleView'>;

const CODE = /^(err(or)?|fault|failure)[-_]?(code|number|no|id)$/i;
const TEXT = /^((err(or)?|fault|failure)[-_]?(message|text|description|reason)|message|reason|description)$/i;
const FLAG = /^(success|succeeded|ok|is[-_]?ok|is[-_]?success(ful)?)$/i;
const FAILED = /^(err(or)?|has[-_]?err(or)?s?|failed|failure)$/i;
const STATUS = /^(status|result|outcome|state)([-_]?code)?$/i;
const BAD = /^(err(or)?|fail(ed|ure)?|nok|ko|rejected|invalid|denied)$/i;
const IS_TRUE = /^(true|1|yes)$/i;

/** Leaves with their paths from the answer's first element; a path that repeats is looked at once. */
function leaves(t: Tree, path: string, into: Map<string, string>, depth: number) {
  for (const c of t.children ?? []) {
    const at = path ? `${path}/${c.name}` : c.name;
    if (!c.children?.length) into.set(at, into.get(at) ?? c.text ?? '');
    else if (depth < 3) leaves(c, at, into, depth + 1);
  }
}

const last = (path: string) => path.slice(path.lastIndexOf('/') + 1);

/** A rule for an answer that has fields which look like it; undefined when it has none. */
export function proposed(root: Tree): Rule | undefined {
  const all = new Map<string, string>();
  leaves(root, '', all, 1);
  const find = (like: RegExp) => [...all.keys()].find((p) => like.test(last(p)));
  const code = find(CODE);
  const flag = find(FLAG);
  const failed = find(FAILED);
  const status = find(STATUS);
  const failWhen = code
    ? `${code} != ''`
    : flag
      ? `${flag} = ('false', '0')`
      : failed
        ? IS_TRUE.test(all.get(failed) ?? '') || /^(false|0|no)$/i.test(all.get(failed) ?? '')
          ? `${failed} = ('true', '1')`
          : `${failed} != ''`
        : status && BAD.test(all.get(status) ?? '')
          ? `${status} = '${all.get(status)}'`
          : undefined;
  return failWhen ? { failWhen, reason: find(TEXT), code: code ?? (status && !flag ? status : undefined) } : undefined;
}
