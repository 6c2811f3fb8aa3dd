import { rowNameOf } from '../../../common/problems';
import { Input, Select } from 'antd';
import type { Column, PickView, Specimen, StepOf } from '../../../api/types';
import { Toolbar } from '../../../common/Panel';
import { added, carried, changed, retyped } from './picking';
import css from './Columns.module.css';

type Pick = StepOf<'pick'>;
const TYPES = ['string', 'integer', 'decimal', 'double', 'boolean', 'date', 'dateTime', 'time'];

interface Props {
  step: Pick;
  edit: (change: (s: Pick) => Pick) => void;
  view?: PickView;
  specimen?: Specimen;
}

/** The columns of a result record, and ways to add more. */
export function Columns({ step, edit, view, specimen }: Props) {
  const problems = new Map((view?.problems ?? []).map((p) => [rowNameOf(p), p.text]));
  return (
    <div className="scroll">
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
          {step.columns.map((c, i) => (
            <Row
              key={i}
              column={c}
              label={`column ${i + 1}`}
              problem={problems.get(c.name)}
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
          onChange={(v: string | null) => v && edit((s) => carried(s, v, specimen))}
          options={specimen?.fields.map((f) => ({ value: f.name, label: f.name }))}
        />
        <button
          className="link soft"
          onClick={() => edit((s) => added(s, 'asked_at', { xpath: 'current-dateTime()', type: 'dateTime' }))}
        >
          time of the call
        </button>
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
  change: (by: (c: Column) => Column | null) => void;
}

const valueOf = (typed: string): Partial<Column> =>
  typed.startsWith('"') ? { text: typed.slice(1), xpath: undefined } : { xpath: typed, text: undefined };

const Row = ({ column: c, label, problem, change }: RowProps) => (
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
    </td>
    <td>
      <button className="link soft small" onClick={() => change(() => null)}>
        drop
      </button>
    </td>
  </tr>
);
