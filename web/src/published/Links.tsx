import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api, EndpointView, KeyView } from '../api/types';
import { Field } from '../common/Field';
import { when } from '../common/format';
import { freeName } from '../common/freeName';
import { ErrorText, Status } from '../common/ui';
import { Shown } from './Keys';
import { linkAddress } from './page';
import { keyKeys, useKeys } from './queries';
import css from './Links.module.css';

type NewKey = Api<'NewKey'>;

const USUAL_DAYS = 30;
const DAY_MS = 86_400_000;

const dayIn = (days: number) => new Date(Date.now() + days * DAY_MS).toISOString().slice(0, 10);

/** Links to a page: each for somebody, each with an end. A link is a key that is for this page alone. */
export function Links({ of: e }: { of: EndpointView }) {
  const queries = useQueryClient();
  const keys = useKeys();
  const [who, setWho] = useState('');
  const [ends, setEnds] = useState(() => dayIn(USUAL_DAYS));
  const refresh = () => queries.invalidateQueries({ queryKey: keyKeys.all });
  const mine = keys.data?.filter((k) => k.triggers?.length === 1 && k.triggers[0] === e.name) ?? [];
  const make = useMutation({
    mutationFn: () => {
      const name = freeName(who.trim() || `${e.name} link`, keys.data?.map((k) => k.name) ?? []);
      return api.post<NewKey>(`/keys/${seg(name.slice(-80))}`, {
        triggers: [e.name],
        endsAt: ends ? `${ends}T23:59:59Z` : undefined,
      });
    },
    onSuccess: async () => {
      setWho('');
      await refresh();
    },
  });
  const remove = useMutation({ mutationFn: (k: KeyView) => api.delete(`/keys/${seg(k.name)}`), onSuccess: refresh });
  return (
    <div>
      <span className="field-label">Links</span>
      {mine.length > 0 && (
        <table className="grid">
          <tbody>
            {mine.map((k) => (
              <tr key={k.name}>
                <td>{k.name}</td>
                <td className="nowrap">
                  <Until of={k} now={keys.dataUpdatedAt} />
                </td>
                <td className="soft nowrap">{k.usedAt ? `used ${when(k.usedAt)}` : 'not used yet'}</td>
                <td className="right">
                  <button className="link soft" aria-label={`end ${k.name}`} onClick={() => remove.mutate(k)}>
                    end
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className={css.make}>
        <Field label="For whom" id="link-who">
          <Input id="link-who" placeholder={`${e.name} link`} value={who} onChange={(x) => setWho(x.target.value)} />
        </Field>
        <Field label="Works until" id="link-ends">
          <Input id="link-ends" type="date" value={ends} onChange={(x) => setEnds(x.target.value)} />
        </Field>
        <Button loading={make.isPending} onClick={() => make.mutate()}>
          Make a link
        </Button>
      </div>
      {make.data && <Shown text={linkAddress(e.url, make.data.key)} what="the new link" />}
      <ErrorText error={make.error ?? remove.error} />
    </div>
  );
}

function Until({ of: k, now }: { of: KeyView; now: number }) {
  if (!k.endsAt) return <span className="faint">for ever</span>;
  return new Date(k.endsAt).getTime() <= now ? (
    <Status mood="idle">ended</Status>
  ) : (
    <span className="num">until {k.endsAt.slice(0, 10)}</span>
  );
}
