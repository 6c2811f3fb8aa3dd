import { misfits } from '../../common/problems';
import { Dropdown, Input, Popover, Select, type InputRef } from 'antd';
import { useState, type Ref } from 'react';
import type { Api, FillView, Rule } from '../../api/types';
import { Toolbar } from '../../common/Panel';
import { count, plural } from '../../common/format';
import { ErrorText, Status } from '../../common/ui';
import { useTestValues } from '../../contracts';

import type { Where } from '../where';
import css from './FillBar.module.css';
import type { Filling } from './filling';
import { useTrial, useTrialOfAll } from './queries';
import { isGiven, last } from './rows';
import type { Show, Wish } from './shown';

const MOST_GROUPS = 12;

interface Props {
  fill: FillView;
  filling: Filling;
  where: Where;
  setNumber: (n: number) => void;
  /** Which rows are looked at. */
  look: Wish;
  setLook: (change: (l: Wish) => Wish) => void;
  finder: Ref<InputRef>;
  /** How many suggestions are open. */
  offered: number;
  takeAll: () => void;
  /** Rows without a rule take the values of a set. */
  takeValues: (rules: Rule[]) => void;
}

/** How far the fill is, how it does on real records, and what is suggested. */
export function FillBar(props: Props) {
  const { fill, filling, where, setNumber, look, setLook, finder, offered, takeAll, takeValues } = props;
  const open = fill.unfilled.length;
  const trial = useTrial(filling, where, open === 0);
  return (
    <Toolbar>
      <State fill={fill} rules={filling.rules} />
      {open === 0 && trial.data && trial.data.tried > 0 && (
        <span className={trial.data.failing.length ? 'st warn' : 'soft'}>
          fits {count(trial.data.fitting)} of {trial.data.whole ? '' : 'the first '}
          {count(trial.data.tried)} records{' '}
          {trial.data.failing.length > 0 && <Failing trial={trial.data} setNumber={setNumber} />}
          {!trial.data.whole && <TryAll filling={filling} where={where} />}
        </span>
      )}
      <Select<Show>
        size="small"
        variant="borderless"
        aria-label="rows shown"
        popupMatchSelectWidth={false}
        value={look.show}
        onChange={(show) => setLook((l) => ({ ...l, show }))}
        options={[
          { value: 'all', label: `all ${plural(fill.rows.length, 'row')}` },
          { value: 'filled', label: 'required and filled' },
          { value: 'open', label: `open, ${open}` },
          { value: 'problems', label: `problems, ${fill.problems.length}` },
        ]}
      />
      <Input
        ref={finder}
        size="small"
        allowClear
        className={css.find}
        aria-label="find a row"
        placeholder="find a row (f)"
        value={look.find}
        onChange={(e) => setLook((l) => ({ ...l, find: e.target.value }))}
        onKeyDown={(e) => {
          if (e.key === 'Escape') {
            e.stopPropagation();
            setLook((l) => ({ ...l, find: '' }));
          }
        }}
      />
      {filling.values && <FromTestValues of={filling.values} take={takeValues} />}
      {offered > 0 && (
        <span className="push soft">
          {plural(offered, 'suggestion')} <kbd>Tab</kbd> or <kbd>t</kbd> takes one ·{' '}
          <button className="link" onClick={takeAll}>
            take all
          </button>
        </span>
      )}
    </Toolbar>
  );
}

/** The first records are tried by themselves; all of them when they are wanted. */
function TryAll({ filling, where }: { filling: Filling; where: Where }) {
  const all = useTrialOfAll(filling, where);
  return (
    <>
      {' '}
      <button className="link" disabled={all.isPending} onClick={() => all.mutate()}>
        {all.isPending ? 'trying all…' : 'try all'}
      </button>
      {all.isError && <ErrorText error={all.error} />}
    </>
  );
}

function State({ fill, rules }: { fill: FillView; rules: Rule[] }) {
  const open = fill.unfilled.length;
  const bad = misfits(fill).length;
  const empty = fill.rows.filter((r) => r.repeated && r.depth <= 2 && !isGiven(r, rules));
  if (open > 0) return <Status mood="warn">{plural(open, 'required row')} unfilled</Status>;
  if (bad > 0) return <Status mood="bad">{bad === 1 ? '1 value does not fit' : `${bad} values do not fit`}</Status>;
  // A message without any of what it repeats may be right, but is rarely meant.
  if (empty.length > 0) return <Status mood="idle">fits; without any {last(empty[0].path)}</Status>;
  return <Status mood="ok">complete for this record</Status>;
}

/** Named values of the operation, for rows that have none yet. */
function FromTestValues({ of, take }: { of: NonNullable<Filling['values']>; take: (rules: Rule[]) => void }) {
  const sets = useTestValues(of.contract, of.operation).data ?? [];
  if (!sets.length) return null;
  return (
    <Dropdown
      trigger={['click']}
      menu={{ items: sets.map((s) => ({ key: s.name, label: s.name, onClick: () => take(s.rules) })) }}
    >
      <button className="link soft" title="Rows that have no value yet take those of a set">
        from test values
      </button>
    </Dropdown>
  );
}

/** What does not fit in real records, by row and reason; a record of each can be made the specimen. */
function Failing({ trial, setNumber }: { trial: Api<'FillTrial'>; setNumber: (n: number) => void }) {
  const [isOpen, setOpen] = useState(false);
  const groups = (
    <table className={`grid ${css.misfits}`}>
      <tbody>
        {trial.failing.slice(0, MOST_GROUPS).map((f, i) => (
          <tr key={i}>
            <td className="mono">{f.path ? last(f.path) : 'read'}</td>
            <td className="small">
              {f.text}
              {f.values.length > 1 && <div className="soft">{f.values.join(', ')}</div>}
            </td>
            <td className="n">{count(f.records)}</td>
            <td className="nowrap">
              <button
                className="link small"
                onClick={() => {
                  setNumber(f.numbers[0]);
                  setOpen(false);
                }}
              >
                open record {f.numbers[0]}
              </button>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
  return (
    <Popover content={groups} trigger="click" open={isOpen} onOpenChange={setOpen} placement="bottomLeft">
      <button className="link">show {trial.tried - trial.fitting}</button>
    </Popover>
  );
}
