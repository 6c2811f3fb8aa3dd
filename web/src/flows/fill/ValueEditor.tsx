import type { FunctionView, Problem, Tree } from '../../api/types';
import { ExpressionEditor, type Completable, type Ending } from '../../common/ExpressionEditor';
import { FILE, fuzzy, SECRET } from './values';

/** The fields of a record by their paths, with their values. */
function fields(record?: Tree, prefix = ''): Completable[] {
  return (record?.children ?? []).flatMap((c) =>
    c.children
      ? [{ name: prefix + c.name, note: 'has more inside' }, ...fields(c, `${prefix}${c.name}/`)]
      : [{ name: prefix + c.name, note: c.text }],
  );
}

interface Props {
  start: string;
  label: string;
  record?: Tree;
  functions: FunctionView[];
  /** Names of secrets. */
  secrets: string[];
  /** Names of files, where one can go. */
  files: string[];
  ghost?: string;
  problem?: Problem;
  onType: (t: string) => void;
  onEnd: (t: string | null, then: Ending) => void;
}

/** The editor of one value: a field, a fixed text after a leading quote, a secret, a file, or any XPath. */
export const ValueEditor = ({ record, functions, secrets, files, problem, ...rest }: Props) => (
  <ExpressionEditor
    {...rest}
    problem={problem && { text: problem.text, offset: problem.place?.offset }}
    completions={() => [
      ...fields(record),
      ...functions.map((f) => ({ name: `${f.name}(`, note: f.parameters })),
      ...files.map((f) => ({ name: `${FILE}'${f.replaceAll("'", "''")}'`, note: 'its content' })),
      ...secrets.map((s) => ({ name: SECRET + s, note: 'sent, and shown to nobody' })),
    ]}
    score={(typed, name) => (typed ? fuzzy(typed, name) : 1)}
  />
);
