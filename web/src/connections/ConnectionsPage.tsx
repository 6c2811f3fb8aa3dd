import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Checkbox, Input, InputNumber, Segmented, Select } from 'antd';
import { useEffect, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { api, seg } from '../api/client';
import type { Api, ConnectionView } from '../api/types';
import { useEnvironment } from '../app/environment';
import { millis } from '../common/format';
import { Problem, Status } from '../common/ui';

export function ConnectionsPage() {
  const { name } = useParams();
  const go = useNavigate();
  const list = useQuery({ queryKey: ['connections'], queryFn: () => api.get<ConnectionView[]>('/connections') });
  if (list.isPending) return null;
  const chosen =
    name === 'new' ? undefined : (list.data?.find((c) => c.name === name) ?? (name ? undefined : list.data?.[0]));
  const making = name === 'new' || list.data?.length === 0;
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '268px minmax(0, 1fr)', minHeight: 0 }}>
      <aside className="side">
        <div className="hd row">
          <h1>Connections</h1>
          <Button size="small" className="push" onClick={() => void go('/connections/new')}>
            Add
          </Button>
        </div>
        {list.isError && <Problem error={list.error} />}
        {list.data?.map((c) => (
          <button
            key={c.name}
            className={`item ${!making && c === chosen ? 'on' : ''}`}
            onClick={() => void go(`/connections/${seg(c.name)}`)}
          >
            <span className="cut">{c.name}</span>
            <span className="faint">{c.kind === 'soap' ? 'service' : 'database'}</span>
          </button>
        ))}
      </aside>
      <section className="scroll" style={{ background: 'var(--panel)', padding: '16px 22px' }}>
        {making || chosen ? (
          <Editor key={chosen?.name ?? 'new'} connection={making ? undefined : chosen} />
        ) : (
          <div className="soft">There is no connection named {name}.</div>
        )}
      </section>
    </div>
  );
}

/** Settings for what a contract's port asks of its callers. */
const asked = (what: string[]): Partial<ConnectionView['settings']> => ({
  ...(what.includes('addressing') ? { addressing: true } : {}),
  ...(what.includes('timestamp') ? { timestamp: true } : {}),
  ...(what.includes('digest') ? { token: 'digest' } : what.includes('token') ? { token: 'text' } : {}),
});

function Editor({ connection: c }: { connection?: ConnectionView }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const { message, modal } = App.useApp();
  const environment = useEnvironment();
  // A contract's port offers what it asks for: its address, and settings it wants.
  const [offered] = useSearchParams();
  const [name, setName] = useState(c?.name ?? offered.get('name') ?? '');
  const [kind, setKind] = useState<string>(c?.kind ?? 'soap');
  const [urls, setUrls] = useState<[string, string][]>(() =>
    (Object.entries(c?.settings.urls ?? { test: offered.get('url') ?? '', live: '' }) as [string, string][]).sort(
      ([a], [b]) => Number(b === 'test') - Number(a === 'test') || a.localeCompare(b),
    ),
  );
  const [settings, setSettings] = useState<Partial<ConnectionView['settings']>>(
    c?.settings ?? asked(offered.getAll('ask')),
  );
  const [password, setPassword] = useState<string | undefined>(undefined);
  useEffect(() => {
    document.title = c ? `${c.name}, connection` : 'New connection';
  }, [c]);
  const save = useMutation({
    mutationFn: () =>
      api.put(`/connections/${seg(name.trim())}`, {
        kind,
        settings: { ...settings, urls: Object.fromEntries(urls.filter(([e, u]) => e && u)) },
        password: password ?? null,
      }),
    onSuccess: async () => {
      void message.success('Kept');
      await queries.invalidateQueries();
      void go(`/connections/${seg(name.trim())}`);
    },
  });
  const probe = useMutation({
    mutationFn: () => api.post<Api<'Probe'>>(`/connections/${seg(name)}/probe?environment=${seg(environment)}`),
  });
  const remove = useMutation({
    mutationFn: () => api.delete(`/connections/${seg(name)}`),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go('/connections');
    },
  });
  // The password goes with it and nobody can bring it back, so this one asks.
  const ask = () =>
    modal.confirm({
      title: `Remove ${name}?`,
      content: 'Its password goes with it. While something uses it, it stays.',
      okText: 'Remove',
      okButtonProps: { danger: true },
      onOk: () => remove.mutateAsync().catch(() => undefined),
    });
  const number = (
    label: string,
    key: 'connectTimeoutMillis' | 'callTimeoutMillis' | 'parallel' | 'callsPerSecond' | 'retries',
    otherwise: string,
  ) => (
    <div>
      <label className="field-label" htmlFor={key}>
        {label}
      </label>
      <InputNumber
        id={key}
        min={0}
        style={{ width: 136 }}
        placeholder={otherwise}
        value={settings[key]}
        onChange={(v) => setSettings({ ...settings, [key]: v ?? undefined })}
      />
    </div>
  );
  return (
    <div style={{ maxWidth: 760 }}>
      <div className="row">
        <h1>{c?.name ?? 'New connection'}</h1>
        {c && (
          <span className="push row">
            <Button onClick={() => probe.mutate()} loading={probe.isPending}>
              Probe {environment}
            </Button>
            <Button type="text" onClick={ask}>
              Remove
            </Button>
          </span>
        )}
      </div>
      {probe.data && (
        <p>
          {probe.data.good ? (
            <Status mood="ok">{probe.data.text}</Status>
          ) : (
            <Status mood="bad">{probe.data.text}</Status>
          )}{' '}
          <span className="soft num">{probe.data.micros != null ? millis(probe.data.micros / 1000) : ''}</span>
        </p>
      )}
      {probe.data?.warning && (
        <div className="notice warn" style={{ margin: '6px 0' }}>
          {probe.data.warning}
        </div>
      )}
      {probe.isError && <Problem error={probe.error} />}
      {remove.isError && <Problem error={remove.error} />}
      {!c && (
        <>
          <label className="field-label" htmlFor="connection-name">
            Name
          </label>
          <Input
            id="connection-name"
            style={{ width: 320 }}
            autoFocus
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <label className="field-label">What it leads to</label>
          <Segmented
            value={kind}
            onChange={(v) => setKind(String(v))}
            options={[
              { value: 'soap', label: 'a service' },
              { value: 'database', label: 'a database' },
            ]}
          />
        </>
      )}
      <label className="field-label">
        {kind === 'soap'
          ? 'Address of the service, for each environment'
          : 'JDBC address of the database, for each environment'}
      </label>
      {urls.map(([e, u], i) => (
        <div key={i} className="row" style={{ marginBottom: 6 }}>
          <Input
            style={{ width: 110 }}
            aria-label={`environment ${i + 1}`}
            value={e}
            onChange={(x) => setUrls(urls.map((y, j) => (j === i ? [x.target.value, y[1]] : y)))}
          />
          <Input
            className="mono"
            aria-label={`address for ${e}`}
            placeholder={kind === 'soap' ? 'https://' : 'jdbc:postgresql://host:5432/name'}
            value={u}
            onChange={(x) => setUrls(urls.map((y, j) => (j === i ? [y[0], x.target.value] : y)))}
          />
          <Button
            type="text"
            size="small"
            aria-label={`remove ${e}`}
            onClick={() => setUrls(urls.filter((_, j) => j !== i))}
          >
            remove
          </Button>
        </div>
      ))}
      <button className="link soft small" onClick={() => setUrls([...urls, ['', '']])}>
        add an environment
      </button>
      <div className="row" style={{ alignItems: 'start', gap: 16 }}>
        <div>
          <label className="field-label" htmlFor="user">
            User
          </label>
          <Input
            id="user"
            style={{ width: 220 }}
            autoComplete="off"
            placeholder={
              offered.getAll('ask').some((a) => ['basic', 'token', 'digest'].includes(a))
                ? 'the service asks for one'
                : kind === 'soap'
                  ? 'none: no log-in'
                  : ''
            }
            value={settings.user ?? ''}
            onChange={(e) => setSettings({ ...settings, user: e.target.value || undefined })}
          />
        </div>
        <div>
          <label className="field-label" htmlFor="secret">
            Password
          </label>
          <Input.Password
            id="secret"
            style={{ width: 220 }}
            autoComplete="new-password"
            placeholder={c?.hasPassword ? 'kept; type to replace' : 'none'}
            value={password ?? ''}
            onChange={(e) => setPassword(e.target.value)}
          />
        </div>
      </div>
      {kind === 'soap' && (
        <div className="row wrap" style={{ gap: 16, alignItems: 'start', rowGap: 0 }}>
          {number('Calls at a time', 'parallel', '8')}
          {number('Calls a second', 'callsPerSecond', 'no limit')}
          {number('Retries, unreached', 'retries', '2')}
          {number('Connect time-out, ms', 'connectTimeoutMillis', '5000')}
          {number('Time for a whole call, ms', 'callTimeoutMillis', '30000')}
        </div>
      )}
      {kind === 'soap' && (
        <div className="row wrap" style={{ marginTop: 12, gap: '6px 18px' }}>
          <span className="row small">
            <label className="soft" htmlFor="token">
              the log-in goes as
            </label>
            <Select
              id="token"
              size="small"
              style={{ width: 250 }}
              value={settings.token ?? ''}
              onChange={(v) => setSettings({ ...settings, token: v || undefined })}
              options={[
                { value: '', label: 'HTTP Basic' },
                { value: 'text', label: 'WS-Security token, password as text' },
                { value: 'digest', label: 'WS-Security token, password digest' },
              ]}
            />
          </span>
          <Checkbox
            checked={!!settings.timestamp}
            onChange={(e) => setSettings({ ...settings, timestamp: e.target.checked || undefined })}
          >
            WS-Security timestamp
          </Checkbox>
          <Checkbox
            checked={!!settings.addressing}
            onChange={(e) => setSettings({ ...settings, addressing: e.target.checked || undefined })}
          >
            WS-Addressing headers
          </Checkbox>
          {(settings.token || settings.timestamp || settings.addressing) && (
            <HeaderRules settings={settings} set={setSettings} />
          )}
        </div>
      )}
      <div style={{ marginTop: 18 }} className="row">
        <Button type="primary" disabled={!name.trim()} loading={save.isPending} onClick={() => save.mutate()}>
          Keep
        </Button>
        {save.isError && <Problem error={save.error} />}
      </div>
    </div>
  );
}

type Draft = Partial<ConnectionView['settings']>;
const RULES = [
  { value: 'usual', label: 'security must be understood' },
  { value: 'yes', label: 'all must be understood' },
  { value: 'no', label: 'none must be understood' },
];

/** What the headers that the connection adds say of themselves: whether they must be understood, and by whom. */
function HeaderRules({ settings, set }: { settings: Draft; set: (s: Draft) => void }) {
  const value =
    settings.mustUnderstand === undefined || settings.mustUnderstand === null
      ? 'usual'
      : settings.mustUnderstand
        ? 'yes'
        : 'no';
  return (
    <span className="row small">
      <span className="soft">of these headers</span>
      <Select
        size="small"
        aria-label="must be understood"
        style={{ width: 210 }}
        value={value}
        options={RULES}
        onChange={(v) => set({ ...settings, mustUnderstand: v === 'usual' ? undefined : v === 'yes' })}
      />
      <span className="soft">for the role</span>
      <Input
        size="small"
        aria-label="role of the headers"
        style={{ width: 170 }}
        placeholder="the last receiver"
        value={settings.role ?? ''}
        onChange={(e) => set({ ...settings, role: e.target.value || undefined })}
      />
    </span>
  );
}
