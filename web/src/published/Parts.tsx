import { Input, InputNumber, Select } from 'antd';
import type { FolderTrigger, Input as FlowInput, QueueTrigger } from '../api/types';
import { Field } from '../common/Field';
import { parted, partOf, typeWords, type Part } from './endpoint';
import css from './EndpointFields.module.css';

type Pace = Pick<QueueTrigger, 'atATime' | 'attempts' | 'waitSeconds'>;

interface PacesProps {
  of: Pace;
  by: (change: Pace) => void;
  /** At a time. */
  most: number;
  usual: { atATime: number; attempts: number };
}

/** How many at a time, and how often. */
export const Paces = ({ of, by, most, usual }: PacesProps) => (
  <div className={css.triple}>
    <Field label="At a time" id="taker-parallel">
      <InputNumber
        id="taker-parallel"
        className={css.wide}
        min={1}
        max={most}
        value={of.atATime ?? usual.atATime}
        onChange={(n) => by({ atATime: n ?? undefined })}
      />
    </Field>
    <Field label="Attempts" id="taker-attempts">
      <InputNumber
        id="taker-attempts"
        className={css.wide}
        min={1}
        max={20}
        value={of.attempts ?? usual.attempts}
        onChange={(n) => by({ attempts: n ?? undefined })}
      />
    </Field>
    <Field label="Seconds between" id="taker-wait">
      <InputNumber
        id="taker-wait"
        className={css.wide}
        min={0}
        max={3_600}
        value={of.waitSeconds ?? 5}
        onChange={(n) => by({ waitSeconds: n ?? undefined })}
      />
    </Field>
  </div>
);

const PARTS: { value: Part; label: string }[] = [
  { value: 'BODY', label: 'in the body' },
  { value: 'PROPERTY', label: 'property' },
  { value: 'WHOLE', label: 'the whole body' },
];

/** Where each input comes from. */
export function Parts<T extends QueueTrigger | FolderTrigger>({
  of: taker,
  inputs,
  set,
  what,
}: {
  of: T;
  inputs: FlowInput[];
  set: (to: T) => void;
  /** What they come from, in words. */
  what: string;
}) {
  return (
    <div>
      <span className="field-label">Inputs of the flow, from {what} of JSON or XML</span>
      <div className={css.table}>
        <table className="grid fixed">
          <colgroup>
            <col />
            <col className={css.part} />
            <col className={css.as} />
          </colgroup>
          <tbody>
            {inputs.map((i) => {
              const at = partOf(taker, i.name);
              return (
                <tr key={i.name}>
                  <td>
                    <span className="mono">{i.name}</span>{' '}
                    <span className="faint small">
                      {typeWords(i)}
                      {i.required ? ', required' : ''}
                    </span>
                  </td>
                  <td>
                    <Select
                      size="small"
                      aria-label={`where ${i.name} comes from`}
                      className={css.wide}
                      value={at.in}
                      onChange={(to) => set(parted(taker, i.name, { ...at, in: to }))}
                      options={PARTS}
                    />
                  </td>
                  <td>
                    {at.in === 'PROPERTY' && (
                      <Input
                        size="small"
                        className="mono"
                        aria-label={`name of ${i.name} there`}
                        value={at.name}
                        onChange={(e) => set(parted(taker, i.name, { ...at, name: e.target.value }))}
                      />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </div>
  );
}
