import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, seg } from '../api/client';
import type { Api, EndpointView, KeyView } from '../api/types';
import { Field } from '../common/Field';
import { freeName } from '../common/freeName';
import { count, when } from '../common/format';
import { Toolbar } from '../common/Panel';
import { ErrorText, Status } from '../common/ui';
import { useUndo } from '../common/useUndo';
import { keyKeys, useKeys } from './queries';
import css from './Keys.module.css';

type Change = Api<'KeyChange'>;
type NewKey = Api<'NewKey'>;

const changeOf = (k: KeyView): Change => ({
  triggers: k.triggers,
  perSecond: k.perSecond,
  perDay: k.perDay,
  endsAt: k.endsAt,
});

/** What a key may, in words. */
function limits(k: KeyView): string {
  const parts = [
    k.perSecond !== undefined ? `${k.perSecond} a second` : '',
    k.perDay !== undefined ? `${count(k.perDay)} a day, ${count(k.today)} so far` : '',
  ].filter((p) => p);
  return parts.join(', ') || 'as many calls as it likes';
}

/** All keys, and making one. */
export function Keys({ endpoints }: { endpoints: EndpointView[] }) {
  const keys = useKeys();
  return (
    <section className={`panel ${css.keys}`} aria-label="keys">
      <Toolbar>
        <h2>Keys</h2>
        <span className="soft">A key is shown once, when it is made; only its digest is kept.</span>
      </Toolbar>
      <ErrorText error={keys.error} />
      <MakeKey endpoints={endpoints} />
      <table className="grid">
        <thead>
          <tr>
            <th>key</th>
            <th>for</th>
            <th>may make</th>
            <th>ends</th>
            <th>last used</th>
            <th aria-label="deeds" />
          </tr>
        </thead>
        <tbody>
          {keys.data?.map((k) => (
            <KeyRow key={k.name} of={k} now={keys.dataUpdatedAt} />
          ))}
          {keys.data?.length === 0 && (
            <tr>
              <td colSpan={6} className="soft">
                There is no key yet.
              </td>
            </tr>
          )}
        </tbody>
      </table>
    </section>
  );
}

const DAY_MS = 86_400_000;

/** Whatever the clock of this machine says. */
const LONG_AGO = '2000-01-01T00:00:00Z';

/** Whether it has ended, or will soon. */
function Ends({ of: k, now }: { of: KeyView; now: number }) {
  if (!k.endsAt) return <span className="faint">never</span>;
  const left = new Date(k.endsAt).getTime() - now;
  if (left <= 0) return <Status mood="idle">ended</Status>;
  const days = Math.ceil(left / DAY_MS);
  return days < 14 ? (
    <Status mood="warn">{days === 1 ? 'within a day' : `in ${days} days`}</Status>
  ) : (
    <span className="num">{when(k.endsAt)}</span>
  );
}

function KeyRow({ of: k, now }: { of: KeyView; now: number }) {
  const queries = useQueryClient();
  const undo = useUndo();
  const refresh = () => queries.invalidateQueries({ queryKey: keyKeys.all });
  const at = `/keys/${seg(k.name)}`;
  const hasEnded = !!k.endsAt && new Date(k.endsAt).getTime() <= now;
  const end = useMutation({
    mutationFn: () => api.put(at, { ...changeOf(k), endsAt: LONG_AGO }),
    onSuccess: async () => {
      await refresh();
      undo(`The key ${k.name} has ended.`, async () => {
        await api.put(at, changeOf(k));
        await refresh();
      });
    },
  });
  const remove = useMutation({ mutationFn: () => api.delete(at), onSuccess: refresh });
  const rotate = useMutation({
    mutationFn: () => api.post<NewKey>(`${at}/rotate`, { hours: 24 }),
    onSuccess: refresh,
  });
  return (
    <>
      <tr>
        <td className="strong">{k.name}</td>
        <td>{k.triggers ? k.triggers.join(', ') : <span className="soft">everything</span>}</td>
        <td>{limits(k)}</td>
        <td className="nowrap">
          <Ends of={k} now={now} />
        </td>
        <td className="soft nowrap">{k.usedAt ? when(k.usedAt) : 'never'}</td>
        <td className="nowrap right">
          {!hasEnded && (
            <button
              className="link soft"
              title="Makes another key; this one counts for 24 hours more"
              onClick={() => rotate.mutate()}
            >
              rotate
            </button>
          )}{' '}
          {hasEnded ? (
            <button className="link soft" onClick={() => remove.mutate()}>
              remove
            </button>
          ) : (
            <button className="link soft" onClick={() => end.mutate()}>
              end
            </button>
          )}
        </td>
      </tr>
      {(rotate.data ?? rotate.error ?? end.error ?? remove.error) && (
        <tr>
          <td colSpan={6}>
            {rotate.data && <Shown text={rotate.data.key} after={`The one before counts for 24 hours more.`} />}
            <ErrorText error={rotate.error ?? end.error ?? remove.error} />
          </td>
        </tr>
      )}
    </>
  );
}

/** The key itself: now and never again. */
export function Shown({ text, after, what = 'the new key' }: { text: string; after?: string; what?: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <div className={`row wrap ${css.shown}`} role="status">
      <code aria-label={what}>{text}</code>
      <Button size="small" onClick={() => void navigator.clipboard?.writeText(text).then(() => setCopied(true))}>
        {copied ? 'Copied' : 'Copy'}
      </Button>
      <span className="soft small">It is shown only now. {after}</span>
    </div>
  );
}

/** A date, or nothing. */
const isDay = (text: string) => !text || (/^\d{4}-\d\d-\d\d$/.test(text) && !Number.isNaN(Date.parse(text)));

function MakeKey({ endpoints }: { endpoints: EndpointView[] }) {
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [may, setMay] = useState<Change>({});
  const [ends, setEnds] = useState('');
  const make = useMutation({
    mutationFn: () =>
      api.post<NewKey>(`/keys/${seg(name.trim())}`, { ...may, endsAt: ends ? `${ends}T00:00:00Z` : undefined }),
    onSuccess: () => {
      setName('');
      return queries.invalidateQueries({ queryKey: keyKeys.all });
    },
  });
  return (
    <div className={css.make}>
      <Field label="Who it is for" id="key-name">
        <Input id="key-name" value={name} onChange={(e) => setName(e.target.value)} />
      </Field>
      <Field label="May ask">
        <Select
          mode="multiple"
          aria-label="may ask"
          className={css.wide}
          placeholder="everything"
          value={may.triggers ?? []}
          onChange={(t: string[]) => setMay({ ...may, triggers: t.length ? t : undefined })}
          options={endpoints.map((e) => ({ value: e.name, label: e.name }))}
        />
      </Field>
      <Field label="Calls a second" id="key-second">
        <InputNumber
          id="key-second"
          min={1}
          placeholder="any"
          value={may.perSecond ?? null}
          onChange={(n) => setMay({ ...may, perSecond: n ?? undefined })}
        />
      </Field>
      <Field label="Calls a day" id="key-day">
        <InputNumber
          id="key-day"
          min={1}
          placeholder="any"
          value={may.perDay ?? null}
          onChange={(n) => setMay({ ...may, perDay: n ?? undefined })}
        />
      </Field>
      <Field label="Ends on, as 2031-06-30" id="key-ends">
        <Input
          id="key-ends"
          className="mono"
          placeholder="never"
          value={ends}
          status={isDay(ends) ? undefined : 'error'}
          onChange={(e) => setEnds(e.target.value.trim())}
        />
      </Field>
      <Button
        type="primary"
        disabled={!name.trim() || !isDay(ends)}
        loading={make.isPending}
        onClick={() => make.mutate()}
      >
        Make the key
      </Button>
      <div className={css.all}>
        <ErrorText error={make.error} />
        {make.data && <Shown text={make.data.key} />}
      </div>
    </div>
  );
}

/** Keys that may ask one endpoint, and making one for it alone. */
export function KeysOf({ endpoint }: { endpoint: string }) {
  const queries = useQueryClient();
  const keys = useKeys();
  const mine = keys.data?.filter((k) => !k.triggers || k.triggers.includes(endpoint)) ?? [];
  const make = useMutation({
    mutationFn: () => {
      const name = freeName(`${endpoint} key`, keys.data?.map((k) => k.name) ?? []);
      return api.post<NewKey>(`/keys/${seg(name.slice(-80))}`, { triggers: [endpoint] });
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: keyKeys.all }),
  });
  return (
    <div>
      <span className="field-label">
        Keys that may ask it · <Link to="/published?add=keys">all keys</Link>
      </span>
      <table className="grid">
        <tbody>
          {mine.map((k) => (
            <tr key={k.name}>
              <td>{k.name}</td>
              <td className="soft">{limits(k)}</td>
              <td className="soft nowrap">{k.usedAt ? when(k.usedAt) : 'not used yet'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {make.data ? (
        <Shown text={make.data.key} />
      ) : (
        <Button size="small" className={css.new} loading={make.isPending} onClick={() => make.mutate()}>
          New key
        </Button>
      )}
      <ErrorText error={make.error} />
    </div>
  );
}
