import { AutoComplete, Select } from 'antd';
import { Link } from 'react-router';
import type { QueueTrigger } from '../api/types';
import { useConnectionsOf } from '../connections';
import { Field } from '../common/Field';
import { Paces } from './Parts';
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
        {name('failed', 'Those that failed on', 'the tray only')}
      </div>
      <Paces of={queue} by={by} most={64} usual={{ atATime: 4, attempts: 3 }} />
    </>
  );
}
