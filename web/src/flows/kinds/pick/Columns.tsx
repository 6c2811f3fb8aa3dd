import { rowNameOf } from '../../../common/problems';
import { Input, Select } from 'antd';
import type { Column, Failing, PickedKind, RecordKind, Specimen, TriedColumn, TriedKind } from '../../../api/types';
import { count } from '../../../common/format';
import { Toolbar } from '../../../common/Panel';
import { Status } from '../../../common/ui';
import { added, allCarried, carried, changed, notCarried, proposed, retyped } from './picking';
import css from './Columns.module.css';

/** Beside names of fields, which have no such sign. */
const ALL = '*';
const STATUS = { xpath: '$call/status', type: 'integer' };
const MILLIS = { xpath: '$call/millis', type: 'integer' };
const HEADER = { xpath: '$call/header/content-type', type: 'string' };
const TYPES = ['string', 'integer', 'decimal', 'double', 'boolean', 'date', 'dateTime', 'time'];

interface Props {
  kind: RecordKind;
  edit: (change: (k: RecordKind) => RecordKind) => void;
  view?: PickedKind;
  /** How it does on many answers. */
  tried?: TriedKind;
  /** Looks at the answer to another record. */
  look?: (number: number) => void;
  specimen?: Specimen;
  /** Whether there is a call whose status and duration can be taken. */
  hasCall?: boolean;
}

/** The columns of a result record, and ways to add more. */
export function Columns({ kind, edit, view, tried, look, specimen, hasCall }: Props) {
  const rest = notCarried(kind, specimen);
  const problems = new Map((view?.problems ?? []).map((p) => [rowNameOf(p), p.text]));
  return (
    <div>
      <table className="grid fixed">
        <colgroup>
          <col className={css.name} />
          <col />
          <col className={css.type} />
          <col className={css.drop} />
        </colgroup>
        <thead>
          <tr>
            <th>column</th>
            <th>value</th>
            <th>type</th>
            <th aria-label="remove" />
          </tr>
        </thead>
        <tbody>
          {kind.columns.map((c, i) => (
            <Row
              key={i}
              column={c}
              label={`column ${i + 1}`}
              problem={problems.get(c.name)}
              tried={tried?.columns.find((t) => t.name === c.name)}
              failing={tried?.failing.filter((f) => f.path === `row/${c.name}`)}
              look={look}
              change={(by) => edit((s) => changed(s, i, by))}
            />
          ))}
        </tbody>
      </table>
      <Toolbar>
        <Select
          size="small"
          aria-label="carry a source field"
          placeholder="carry a source field"
          className={css.carry}
          value={null}
          onChange={(v: string | null) =>
            v && edit((s) => (v === ALL ? allCarried(s, specimen) : carried(s, v, specimen)))
          }
          options={[
            ...(rest.length > 1 ? [{ value: ALL, label: `all the rest, ${rest.length} fields` }] : []),
            ...(specimen?.fields ?? []).map((f) => ({ value: f.name, label: f.name })),
          ]}
        />
        <button
          className="link soft"
          onClick={() => edit((s) => added(s, 'asked_at', { xpath: 'current-dateTime()', type: 'dateTime' }))}
        >
          time of the call
        </button>
        {hasCall && (
          <>
            <button className="link soft" onClick={() => edit((s) => added(s, 'status', STATUS))}>
              its status
            </button>
            <button className="link soft" onClick={() => edit((s) => added(s, 'millis', MILLIS))}>
              its duration
            </button>
            <button className="link soft" onClick={() => edit((s) => added(s, 'header', HEADER))}>
              an HTTP header
            </button>
          </>
        )}
        <button className="link soft" onClick={() => edit((s) => added(s, 'value', { xpath: '', type: 'string' }))}>
          expression
        </button>
        <span className="soft">a leading " makes a fixed text</span>
      </Toolbar>
    </div>
  );
}

interface RowProps {
  column: Column;
  label: string;
  problem?: string;
  tried?: TriedColumn;
  failing?: Failing[];
  look?: (number: number) => void;
  change: (by: (c: Column) => Column | null) => void;
}

const valueOf = (typed: string): Partial<Column> =>
  typed.startsWith('"') ? { text: typed.slice(1), xpath: undefined } : { xpath: typed, text: undefined };

const Row = ({ column: c, label, problem, tried, failing, look, change }: RowProps) => (
  <tr>
    <td>
      <Input
        size="small"
        variant="borderless"
        className={`mono ${css.input}`}
        aria-label={label}
        value={c.name}
        onChange={(e) => change((x) => ({ ...x, name: e.target.value }))}
      />
    </td>
    <td>
      <Input
        size="small"
        variant="borderless"
        className={`mono ${css.input} ${problem ? 'wrong' : ''}`}
        aria-label={`value of ${c.name}`}
        title={problem}
        status={problem ? 'error' : undefined}
        value={c.text !== undefined ? `"${c.text}` : (c.xpath ?? '')}
        onChange={(e) => change((x) => ({ ...x, ...valueOf(e.target.value) }))}
      />
      {problem && <div className="small cut wrong">{problem}</div>}
      {failing?.map((f, i) => (
        <Misfit key={i} failing={f} look={look} />
      ))}
    </td>
    <td>
      <Select
        size="small"
        variant="borderless"
        className={css.types}
        aria-label={`type of ${c.name}`}
        value={c.type ?? 'string'}
        onChange={(t) => change((x) => retyped(x, t))}
        options={TYPES.map((t) => ({ value: t, label: t === 'string' ? 'text' : t }))}
      />
      <Proposal column={c} tried={tried} change={change} />
    </td>
    <td>
      <button className="link bare soft" aria-label={`drop ${c.name}`} title="drop" onClick={() => change(() => null)}>
        ×
      </button>
    </td>
  </tr>
);

/** What does not fit in other answers: how many, and which. */
const Misfit = ({ failing: f, look }: { failing: Failing; look?: (number: number) => void }) => (
  <div className={`small ${css.misfit}`} title={f.text}>
    <Status mood="warn">{f.records === 1 ? '1 does not fit' : `${count(f.records)} do not fit`}</Status>
    {look && (
      <button className="link" aria-label={`look at record ${f.numbers[0]}`} onClick={() => look(f.numbers[0])}>
        see {f.numbers[0]}
      </button>
    )}
    <span className="soft cut">{f.values.length ? f.values.slice(0, 4).join(', ') : f.text}</span>
  </div>
);

/** The type that all answers say, where the column is text. */
function Proposal({ column, tried, change }: Pick<RowProps, 'column' | 'tried' | 'change'>) {
  const to = proposed(column, tried);
  if (!to || !tried) return null;
  return (
    <button
      className={`link small ${css.proposal}`}
      title={`all ${count(tried.values)} values are of this type${to.xpath ? `, as ${to.xpath}` : ''}`}
      onClick={() => change((x) => ({ ...x, ...to }))}
    >
      {to.type}?
    </button>
  );
}
