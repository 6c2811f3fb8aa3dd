import { AutoComplete, Select } from 'antd';
import type { ShapeRow } from '../api/types';
import { takesFile, useFiles } from '../files';
import { useSecrets } from '../connections';
import { added, occurrence, removed, type BenchState } from './benchRules';
import { BenchField } from './BenchField';
import { KindSelect } from './KindSelect';
import { name, type ShapeWish } from './shape';
import css from './BenchRow.module.css';
import { indent } from '../common/place';

/** A row of the request: a typed field, a kind or branch to choose, or just a heading. */
export function BenchRow({
  row: r,
  state,
  setState,
  rows,
  wish,
  problem,
  tried,
  isGiven,
}: {
  row: ShapeRow;
  state: BenchState;
  setState: (s: BenchState) => void;
  rows: ShapeRow[];
  wish: ShapeWish;
  problem?: { code: string; text: string };
  tried: boolean;
  isGiven: boolean;
}) {
  const value = state.values[r.path] ?? '';
  const set = (v: string) => setState({ ...state, values: { ...state.values, [r.path]: v } });
  const secret: string | undefined = state.secrets[r.path];
  const file: string | undefined = state.files[r.path];
  const naming = (kind: 'secrets' | 'files') => (to: string | undefined) => {
    const all = { ...state[kind] };
    if (to === undefined) delete all[r.path];
    else all[r.path] = to;
    setState({ ...state, [kind]: all });
  };
  const setSecret = naming('secrets');
  const setFile = naming('files');
  const isNil = state.nils.includes(r.path);
  const setNil = () =>
    setState({ ...state, nils: isNil ? state.nils.filter((p) => p !== r.path) : [...state.nils, r.path] });
  const saysSo = problem && (problem.code === 'value' || tried);
  return (
    <div className="benchrow">
      <span className="mono cut" style={indent(r.depth, 18)} title={r.documentation ?? r.path}>
        {name(r)}
        {r.required && r.hasText && !isGiven && (
          <span className={css.text} title="required">
            {' '}
            *
          </span>
        )}
        {r.closed && (
          <button
            className={`link faint ${css.action}`}
            onClick={() => setState({ ...state, opened: [...state.opened, r.path] })}
          >
            open
          </button>
        )}
      </span>
      <span className="soft small cut" title={r.limits ?? r.type}>
        {r.kind === 'choice' ? '' : r.type}
      </span>
      <span className={`row ${css.bar}`}>
        {r.kinds && !isNil && (
          <KindSelect
            bordered
            row={r}
            wish={wish}
            taken={state.kinds[r.path]}
            take={(k) => setState({ ...state, kinds: { ...state.kinds, [r.path]: k } })}
          />
        )}
        {r.kind === 'choice' && (
          <Select
            size="small"
            className={css.branch}
            aria-label="branch"
            placeholder={r.required ? 'choose one' : 'none'}
            allowClear
            value={state.branches[r.path] || undefined}
            onChange={(b) => setState({ ...state, branches: { ...state.branches, [r.path]: b ?? '' } })}
            options={rows
              .filter((x) => x.path.startsWith(`${r.path}/`) && !x.path.slice(r.path.length + 1).includes('/'))
              .map((x) => ({ value: x.path.slice(r.path.length + 1), label: name(x) }))}
          />
        )}
        {isNil ? (
          <span className="faint">nil</span>
        ) : secret !== undefined ? (
          <SecretName row={r} name={secret} set={setSecret} />
        ) : file !== undefined ? (
          <FileName row={r} name={file} set={setFile} />
        ) : (
          r.hasText && <BenchField row={r} value={value} set={set} isWrong={!!saysSo && !isGiven} isGiven={isGiven} />
        )}
        {r.hasText && !isNil && !value && secret === undefined && file === undefined && !r.kind?.startsWith('any') && (
          <span className={`row nowrap ${css.secret}`}>
            {takesFile(r.type) && (
              <button className="link small faint" title="Send the content of a file" onClick={() => setFile('')}>
                file
              </button>
            )}
            <button className="link small faint" title="Send the value of a secret" onClick={() => setSecret('')}>
              secret
            </button>
          </span>
        )}
        {r.nillable && (
          <button
            className={`link small nowrap ${isNil ? '' : 'faint'}`}
            aria-pressed={isNil}
            title={isNil ? 'Give a value instead' : 'Send it as nil'}
            onClick={setNil}
          >
            {isNil ? 'give a value' : 'nil'}
          </button>
        )}
        {r.repeated && <Repeating row={r} state={state} setState={setState} />}
      </span>
      {saysSo && <span className={`problem ${css.text2}`}>{problem.text}</span>}
    </div>
  );
}

interface NameProps {
  row: ShapeRow;
  name: string;
  set: (name: string | undefined) => void;
}

/** A secret by its name: its value is sent over a connection that it was given for, and shown to nobody. */
const SecretName = (props: NameProps) => (
  <Name {...props} what="secret" known={(useSecrets().data?.secrets ?? []).map((s) => s.name)} />
);

/** A file of the folder by its name: its content is sent. */
const FileName = (props: NameProps) => (
  <Name {...props} what="file" known={(useFiles().data?.files ?? []).map((f) => f.name)} />
);

/** A name instead of a value. */
function Name({ row, name, set, what, known }: NameProps & { what: string; known: string[] }) {
  return (
    <>
      <AutoComplete
        size="small"
        autoFocus={!name}
        defaultOpen={!name}
        className={`mono ${css.secretName}`}
        aria-label={`${what} for ${row.name}`}
        placeholder={`name of a ${what}`}
        value={name}
        options={known.map((value) => ({ value }))}
        filterOption={(typed, o) => String(o?.value).includes(typed)}
        onChange={(v: string) => set(v ?? '')}
      />
      <button className="link small faint nowrap" title="Type a value instead" onClick={() => set(undefined)}>
        a value
      </button>
    </>
  );
}

/** One of several: another one, or this one taken away. */
function Repeating({
  row: r,
  state,
  setState,
}: {
  row: ShapeRow;
  state: BenchState;
  setState: (s: BenchState) => void;
}) {
  const { base, n } = occurrence(r.path);
  const isLast = n === (state.counts[base] ?? 1);
  return (
    <span className={`push row nowrap ${css.bar2}`}>
      {isLast && (
        <button
          className="link faint small"
          aria-label={`another ${r.name}`}
          title="Give it once more"
          onClick={() => setState(added(state, r.path))}
        >
          + another
        </button>
      )}
      {r.occurrence && (
        <button
          className="link faint small"
          aria-label={`without ${r.name} ${n}`}
          title="Take this one away"
          onClick={() => setState(removed(state, r.path))}
        >
          −
        </button>
      )}
    </span>
  );
}
