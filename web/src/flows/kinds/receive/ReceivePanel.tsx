import { Button, Checkbox, Input as TextInput, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Input, StepOf } from '../../../api/types';
import { indent } from '../../../common/place';
import { Panel, Toolbar } from '../../../common/Panel';
import { Status } from '../../../common/ui';
import { PanelHead } from '../../PanelHead';
import type { PanelProps } from '../kind';
import { added, changed, isNested, limitsOf, retyped, rowsOf, TYPES, withLimits, type InputRow } from './inputs';
import { ChooseRequest, RequestPanel } from './RequestPanel';
import { Samples } from './Samples';
import css from './ReceivePanel.module.css';

type Step = StepOf<'receive'>;

/** What the flow takes: inputs of its own, or the request of an operation of a contract. */
export function ReceivePanel(props: PanelProps<Step>) {
  const [chooses, setChooses] = useState(false);
  if (props.step.request) return <RequestPanel {...props} />;
  return chooses ? (
    <ChooseRequest {...props} done={() => setChooses(false)} />
  ) : (
    <Inputs {...props} choose={() => setChooses(true)} />
  );
}

/** Its inputs, and samples of them to design with. */
function Inputs({ step, edit, remove, problem, where, setNumber, choose }: PanelProps<Step> & { choose: () => void }) {
  const set = (change: (inputs: Input[]) => Input[]) => edit((s) => ({ ...s, inputs: change(s.inputs ?? []) }));
  const rows = rowsOf(step.inputs ?? []);
  return (
    <Panel
      head={
        <PanelHead title="Receive" remove={remove}>
          <span className="soft small">
            what somebody hands over: <code>$input</code>
          </span>
          {rows.length === 0 && (
            <button className="link soft" onClick={choose}>
              the request of a contract’s operation instead
            </button>
          )}
          <Link className="soft" to={`/published?add=endpoint&flow=${where.flow}`}>
            publish it
          </Link>
        </PanelHead>
      }
    >
      {problem && <p className={`st warn ${css.inset}`}>{problem}</p>}
      <table className="grid fixed">
        <colgroup>
          <col />
          <col className={css.type} />
          <col className={css.flag} />
          <col className={css.list} />
          <col className={css.limits} />
          <col className={css.otherwise} />
          <col className={css.text} />
          <col className={css.drop} />
        </colgroup>
        <thead>
          <tr>
            <th>input</th>
            <th>type</th>
            <th>required</th>
            <th>list</th>
            <th>limits</th>
            <th>else</th>
            <th>what it is</th>
            <th aria-label="remove" />
          </tr>
        </thead>
        <tbody>
          {rows.map((r) => (
            <Row key={r.at.join('.')} row={r} set={set} />
          ))}
        </tbody>
      </table>
      <Toolbar>
        <Button size="small" onClick={() => set((i) => added(i))}>
          Add an input
        </Button>
        <span className="soft small">limits: 0–30, from 1, at most 5, like [A-Z]{'{5}'}, one of bulk, box</span>
      </Toolbar>
      <Samples step={step} edit={edit} number={where.number} setNumber={setNumber} />
    </Panel>
  );
}

function Row({ row, set }: { row: InputRow; set: (change: (inputs: Input[]) => Input[]) => void }) {
  const i = row.input;
  const name = i.name;
  const by = (change: Partial<Input>) => set((all) => changed(all, row.at, (old) => ({ ...old, ...change })));
  const plain = !isNested(i) && i.type !== 'json';
  return (
    <tr>
      <td>
        <div className="row" style={indent(row.at.length - 1)}>
          <TextInput
            size="small"
            className="mono"
            aria-label={`name of ${name}`}
            value={name}
            onChange={(e) => by({ name: e.target.value })}
          />
          {isNested(i) && (
            <button className="link soft nowrap" onClick={() => set((all) => added(all, row.at))}>
              one inside
            </button>
          )}
        </div>
      </td>
      <td>
        <Select
          size="small"
          className={css.wide}
          aria-label={`type of ${name}`}
          value={i.type ?? 'string'}
          onChange={(type: string) => set((all) => changed(all, row.at, (old) => retyped(old, type)))}
          options={TYPES.map((t) => ({ value: t, label: t }))}
        />
      </td>
      <td>
        <Checkbox
          aria-label={`${name} is required`}
          checked={!!i.required}
          onChange={(e) => by({ required: e.target.checked || undefined })}
        />
      </td>
      <td>
        <Checkbox
          aria-label={`${name} is a list`}
          checked={!!i.many}
          onChange={(e) => by({ many: e.target.checked || undefined })}
        />
      </td>
      <td>{plain && <Limits of={i} set={(to) => set((all) => changed(all, row.at, () => to))} />}</td>
      <td>
        {plain && row.at.length === 1 && (
          <TextInput
            size="small"
            className="mono"
            aria-label={`${name} otherwise`}
            placeholder="an expression"
            value={i.otherwise ?? ''}
            onChange={(e) => by({ otherwise: e.target.value || undefined })}
          />
        )}
      </td>
      <td>
        <TextInput
          size="small"
          aria-label={`what ${name} is`}
          value={i.text ?? ''}
          onChange={(e) => by({ text: e.target.value || undefined })}
        />
      </td>
      <td>
        <button
          className="link soft"
          aria-label={`remove ${name}`}
          onClick={() => set((all) => changed(all, row.at, () => null))}
        >
          ×
        </button>
      </td>
    </tr>
  );
}

/** Limits in words; taken over when the field is left, so that no half one is. */
function Limits({ of, set }: { of: Input; set: (to: Input) => void }) {
  const [typed, setTyped] = useState<string>();
  const text = typed ?? limitsOf(of);
  const read = withLimits(of, text);
  const end = () => {
    if (typed !== undefined && read) set(read);
    if (read) setTyped(undefined);
  };
  return (
    <>
      <TextInput
        size="small"
        className="mono"
        aria-label={`limits of ${of.name}`}
        value={text}
        status={read ? undefined : 'error'}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={end}
        onPressEnter={end}
      />
      {!read && <Status mood="bad">not read</Status>}
    </>
  );
}
