import { useState } from 'react';
import { count } from '../../common/format';
import { ErrorText, Status } from '../../common/ui';
import { Messages } from './Messages';
import { useQueues, type At } from './queries';
import css from './QueueDesk.module.css';

/** Looks into queues: how many messages there are, what they say, and by hand another one, elsewhere, or gone. */
export function QueueDesk({ at, only }: { at: At; only?: string[] }) {
  const queues = useQueues(at);
  const [opened, setOpened] = useState<string>();
  const all = (queues.data ?? []).filter((q) => !only || only.includes(q.name));
  const open = all.find((q) => q.name === opened) ?? all.find((q) => q.count > 0) ?? all.at(0);
  return (
    <section className={css.desk} aria-label="queues">
      <div className={css.head}>
        <h2>Queues</h2>
        <span className="soft small">
          {at.connection} in {at.environment}
        </span>
      </div>
      <ErrorText error={queues.error} />
      {queues.data && all.length === 0 && (
        <p className={`soft small ${css.none}`}>
          Name the queues that are looked into above. Those that flows take messages of are here by themselves.
        </p>
      )}
      {open && (
        <div className={css.body}>
          <div role="tablist" aria-label="queues" className={css.queues}>
            {all.map((q) => (
              <button
                key={q.name}
                role="tab"
                aria-selected={q === open}
                className={`item ${q === open ? 'on' : ''}`}
                onClick={() => setOpened(q.name)}
              >
                <span className="mono cut">{q.name}</span>
                <span className="num soft">
                  {q.problem ? <Status mood="bad">not there</Status> : count(q.count) + (q.more ? '+' : '')}
                </span>
              </button>
            ))}
          </div>
          {open.problem ? (
            <p className={`st bad ${css.none}`}>{open.problem}</p>
          ) : (
            <Messages
              key={open.name}
              at={at}
              queue={open.name}
              others={(queues.data ?? []).map((q) => q.name).filter((n) => n !== open.name)}
            />
          )}
        </div>
      )}
    </section>
  );
}
