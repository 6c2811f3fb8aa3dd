import { App, Button, Input, Segmented } from 'antd';
import { useEffect } from 'react';
import type { ConnectionView } from '../api/types';
import { useEnvironment } from '../app/environment';
import { Field } from '../common/Field';
import { ErrorText } from '../common/ui';
import { AboutBox } from '../about';
import css from './ConnectionDesk.module.css';
import { KINDS } from './kinds';
import { QueueDesk } from './queues/QueueDesk';
import { ProbePanel } from './ProbePanel';
import { SettingsTable } from './SettingsTable';
import { useConnectionDraft, type ConnectionDraft } from './useConnectionDraft';

/** A connection: its settings, by columns of environments, and beside them what probes find. */
export function ConnectionDesk({ connection: c }: { connection?: ConnectionView }) {
  const d = useConnectionDraft(c);
  useEffect(() => {
    document.title = c ? `${c.name}, connection` : 'New connection';
  }, [c]);
  return (
    <>
      <section className={`scroll ${css.body}`} aria-label="connection">
        <Head d={d} connection={c} />
        {c && (
          <div className={css.about}>
            <AboutBox kind="connection" name={c.name} />
          </div>
        )}
        {(d.save.isError || d.remove.isError) && (
          <div className={css.about}>
            <ErrorText error={d.save.error ?? d.remove.error} />
          </div>
        )}
        {!c && <New d={d} />}
        <SettingsTable key={d.kind} d={d} isKept={!!c} />
        {c?.kind === 'queue' && <Looked connection={c} />}
      </section>
      <ProbePanel d={d} isKept={!!c} />
    </>
  );
}

/** Its queues, in the environment that is chosen above; in the first there is where that one is not. */
function Looked({ connection: c }: { connection: ConnectionView }) {
  const chosen = useEnvironment();
  const [first] = Object.keys(c.environments);
  return <QueueDesk at={{ connection: c.name, environment: chosen in c.environments ? chosen : first }} />;
}

function Head({ d, connection: c }: { d: ConnectionDraft; connection?: ConnectionView }) {
  const { modal } = App.useApp();
  // What it says of the service goes with it and nobody can bring it back, so this one asks.
  const ask = () =>
    modal.confirm({
      title: `Remove ${d.name}?`,
      content: 'Its secrets stay, by their names. While something uses it, it stays.',
      okText: 'Remove',
      okButtonProps: { danger: true },
      onOk: () => d.remove.mutateAsync().catch(() => undefined),
    });
  return (
    <div className={`row ${css.head}`}>
      <h1>{c?.name ?? 'New connection'}</h1>
      <span className="push row">
        <Button
          type="text"
          onClick={() => d.edit((e) => ({ ...e, environments: [...e.environments, { name: '', settings: {} }] }))}
        >
          Add environment
        </Button>
        {d.isChanged && c && (
          <Button type="text" onClick={d.undo}>
            Undo
          </Button>
        )}
        {c && !d.isChanged && (
          <Button type="text" onClick={ask}>
            Remove
          </Button>
        )}
        <Button
          type={d.isChanged || !c ? 'primary' : 'default'}
          disabled={!d.name.trim() || (!!c && !d.isChanged)}
          loading={d.save.isPending}
          onClick={() => d.save.mutate()}
        >
          Keep
        </Button>
      </span>
    </div>
  );
}

/** What a new one is called, and what it leads to. */
const New = ({ d }: { d: ConnectionDraft }) => (
  <div className={`row wrap ${css.fresh}`}>
    <Field label="Name" id="connection-name">
      <Input
        id="connection-name"
        className={css.name}
        autoFocus
        value={d.name}
        onChange={(e) => d.setName(e.target.value)}
      />
    </Field>
    <Field label="What it leads to">
      <Segmented
        value={d.kind}
        onChange={(v) => d.setKind(String(v))}
        options={KINDS.map((k) => ({ value: k.kind, label: k.label }))}
      />
    </Field>
    {d.wantsLogIn && <p className="soft small">The contract’s port asks for a log-in.</p>}
  </div>
);
