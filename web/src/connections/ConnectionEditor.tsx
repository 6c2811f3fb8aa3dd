import { App, Button, Input, Segmented } from 'antd';
import { useEffect } from 'react';
import type { Api, ConnectionView } from '../api/types';
import { Field } from '../common/Field';
import { millis } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import { Addresses } from './Addresses';
import { KINDS, kindNamed } from './kinds';
import { ProbeWay } from './ProbeWay';
import { useConnectionDraft } from './useConnectionDraft';
import css from './ConnectionEditor.module.css';
import { AboutBox } from '../about';

type Draft = ReturnType<typeof useConnectionDraft>;

/** A connection with its addresses, its log-in, and what its kind adds. */
export function ConnectionEditor({ connection: c }: { connection?: ConnectionView }) {
  const { modal } = App.useApp();
  const d = useConnectionDraft(c);
  const kind = kindNamed(d.kind);
  useEffect(() => {
    document.title = c ? `${c.name}, connection` : 'New connection';
  }, [c]);
  // The password goes with it and nobody can bring it back, so this one asks.
  const ask = () =>
    modal.confirm({
      title: `Remove ${d.name}?`,
      content: 'Its password goes with it. While something uses it, it stays.',
      okText: 'Remove',
      okButtonProps: { danger: true },
      onOk: () => d.remove.mutateAsync().catch(() => undefined),
    });
  return (
    <div className={css.editor}>
      <div className="row">
        <h1>{c?.name ?? 'New connection'}</h1>
        {c && (
          <span className="push row">
            <Button onClick={() => d.probe.mutate()} loading={d.probe.isPending}>
              Probe {d.environment}
            </Button>
            <Button type="text" onClick={ask}>
              Remove
            </Button>
          </span>
        )}
      </div>
      {c && <AboutBox kind="connection" name={c.name} />}
      {d.probe.data && <Probed d={d} probe={d.probe.data} />}
      {d.probe.isError && <ErrorText error={d.probe.error} />}
      {d.remove.isError && <ErrorText error={d.remove.error} />}
      {!c && <New d={d} />}
      <Addresses label={kind.addressLabel} hint={kind.addressHint} urls={d.urls} set={d.setUrls} />
      <div className={`row ${css.login}`}>
        <Field label="User" id="user">
          <Input
            id="user"
            className={css.user}
            autoComplete="off"
            placeholder={d.wantsLogIn ? 'the service asks for one' : kind.userHint}
            value={d.settings.user ?? ''}
            onChange={(e) => d.setSettings((s) => ({ ...s, user: e.target.value || undefined }))}
          />
        </Field>
        <Field label="Password" id="secret">
          <Input.Password
            id="secret"
            className={css.user}
            autoComplete="new-password"
            placeholder={c?.hasPassword ? 'kept; type to replace' : 'none'}
            value={d.password ?? ''}
            onChange={(e) => d.setPassword(e.target.value)}
          />
        </Field>
      </div>
      {kind.Settings && <kind.Settings settings={d.settings} set={d.setSettings} />}
      <div className={`row ${css.deeds}`}>
        <Button type="primary" disabled={!d.name.trim()} loading={d.save.isPending} onClick={() => d.save.mutate()}>
          Keep
        </Button>
        {d.save.isError && <ErrorText error={d.save.error} />}
      </div>
    </div>
  );
}

/** What a new one is called, and what it leads to. */
const New = ({ d }: { d: Draft }) => (
  <>
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
  </>
);

const Probed = ({ d, probe }: { d: Draft; probe: Api<'Probe'> }) => (
  <>
    {probe.way && (
      <ProbeWay
        way={probe.way}
        where={`in ${d.environment}`}
        trust={(pem) => d.trust.mutate(pem)}
        trusting={d.trust.isPending}
      />
    )}
    {d.trust.isError && <ErrorText error={d.trust.error} />}
    {!probe.way && <Answer probe={probe} />}
  </>
);

const Answer = ({ probe }: { probe: Api<'Probe'> }) => (
  <>
    <p>
      <Status mood={!probe.good ? 'bad' : probe.warning ? 'warn' : 'ok'}>{probe.text}</Status>{' '}
      <span className="soft num">{probe.micros != null ? millis(probe.micros / 1000) : ''}</span>
    </p>
    {probe.warning && <div className={`notice warn ${css.warning}`}>{probe.warning}</div>}
  </>
);
