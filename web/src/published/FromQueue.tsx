import { AutoComplete, Input, InputNumber, Select } from 'antd';
import { Link } from 'react-router';
import type { Input as FlowInput, QueueTrigger } from '../api/types';
import { useConnectionsOf } from '../connections';
import { Field } from '../common/Field';
import { parted, partOf, typeWords, type Part } from './endpoint';
import css from './EndpointFields.module.css';

interface Props {
  queue: QueueTrigger;
  by: (change: Partial<QueueTrigger>) => void;
  environment: string;
}

/** The queue that messages are taken of, where answers go, and what becomes of those that fail. */
export function FromQueue({ queue, by, environment }: Props) {
  const connections = useConnectionsOf('queue');
  const of = connections.find((c) => c.name === queue.connection);
  const known = of?.environments[environment]?.queues ?? of?.settings.queues ?? [];
  const name = (key: 'queue' | 'replies' | 'failed', label: string, placeholder: string) => (
    <Field label={label} id={`queue-${key}`}>
      <AutoComplete
        id={`queue-${key}`}
        className={`mono ${css.wide}`}
        placeholder={placeholder}
        value={queue[key] ?? ''}
        onChange={(to: string) => by({ [key]: to })}
        options={known.filter((q) => q !== queue.queue || key === 'queue').map((value) => ({ value }))}
      />
    </Field>
  );
  return (
    <>
      <div className={css.pair}>
        <Field label="Broker" id="queue-connection">
          <Select
            id="queue-connection"
            aria-label="connection"
            className={css.wide}
            placeholder="choose a connection"
            value={queue.connection || undefined}
            onChange={(connection) => by({ connection })}
            options={connections.map((c) => ({ value: c.name, label: c.name }))}
          />
          {connections.length === 0 && (
            <span className="soft small">
              <Link to="/connections/new">Add a connection</Link> to a broker first.
            </span>
          )}
        </Field>
        {name('queue', 'Takes messages of', 'the queue')}
        {name('replies', 'Answers on, if it names none', 'nowhere')}
        {name('failed', 'Those that failed on', 'nowhere: in the tray only')}
      </div>
      <div className={css.triple}>
        <Field label="At a time" id="queue-parallel">
          <InputNumber
            id="queue-parallel"
            className={css.wide}
            min={1}
            max={64}
            value={queue.atATime ?? 4}
            onChange={(n) => by({ atATime: n ?? undefined })}
          />
        </Field>
        <Field label="Attempts" id="queue-attempts">
          <InputNumber
            id="queue-attempts"
            className={css.wide}
            min={1}
            max={20}
            value={queue.attempts ?? 3}
            onChange={(n) => by({ attempts: n ?? undefined })}
          />
        </Field>
        <Field label="Seconds between" id="queue-wait">
          <InputNumber
            id="queue-wait"
            className={css.wide}
            min={0}
            max={3_600}
            value={queue.waitSeconds ?? 5}
            onChange={(n) => by({ waitSeconds: n ?? undefined })}
          />
        </Field>
      </div>
    </>
  );
}

const PARTS: { value: Part; label: string }[] = [
  { value: 'BODY', label: 'in the body' },
  { value: 'PROPERTY', label: 'property' },
  { value: 'WHOLE', label: 'the whole body' },
];

/** Where each input comes from. */
export function Parts({
  queue,
  inputs,
  set,
}: {
  queue: QueueTrigger;
  inputs: FlowInput[];
  set: (to: QueueTrigger) => void;
}) {
  return (
    <div>
      <span className="field-label">Inputs of the flow, from a message of JSON or XML</span>
      <div className={css.table}>
        <table className="grid fixed">
          <colgroup>
            <col />
            <col className={css.part} />
            <col className={css.as} />
          </colgroup>
          <tbody>
            {inputs.map((i) => {
              const at = partOf(queue, i.name);
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
                      onChange={(to) => set(parted(queue, i.name, { ...at, in: to }))}
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
                        onChange={(e) => set(parted(queue, i.name, { ...at, name: e.target.value }))}
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
