import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { Field } from '../common/Field';
import { plural, when } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import { useSecrets } from './queries';
import css from './SecretsPage.module.css';

/** Passwords, tokens and keys by name. They are changed here, and shown nowhere. */
export function SecretsPage() {
  const list = useSecrets();
  useEffect(() => {
    document.title = 'Secrets';
  }, []);
  return (
    <div className="page">
      <h1>Secrets</h1>
      <p className="soft">
        Passwords, tokens and keys that <Link to="/connections">connections</Link> name. A value goes in and never comes
        out again; it is sent only to the places it was given for, and masked wherever messages are shown or kept.
      </p>
      {list.isError && <ErrorText error={list.error} />}
      {!!list.data?.secrets.length && (
        <table className={`grid ${css.table}`}>
          <thead>
            <tr>
              <th>Name</th>
              <th>Goes to</th>
              <th>Used by</th>
              <th>Changed</th>
              <th>New value</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {list.data.secrets.map((s) => (
              <Row key={s.name} s={s} />
            ))}
          </tbody>
        </table>
      )}
      <Add />
      {list.data && <Key view={list.data} />}
    </div>
  );
}

function useDeeds(name: string) {
  const queries = useQueryClient();
  const path = `/secrets/${seg(name.trim())}`;
  const onSuccess = () => queries.invalidateQueries({ queryKey: ['secrets'] });
  return {
    put: useMutation({ mutationFn: (given: Api<'SecretGiven'>) => api.put(path, given), onSuccess }),
    remove: useMutation({ mutationFn: () => api.delete(path), onSuccess }),
  };
}

function Row({ s }: { s: Api<'SecretView'> }) {
  const { put, remove } = useDeeds(s.name);
  const [value, setValue] = useState('');
  const keep = () => put.mutate({ value }, { onSuccess: () => setValue('') });
  return (
    <tr>
      <td className="mono">{s.name}</td>
      <td className="mono small">
        {s.places.map((p) => (
          <div key={p}>{p}</div>
        ))}
        {!s.places.length && <span className="soft">nowhere yet</span>}
      </td>
      <td className="soft">{s.usedBy.join(', ') || 'nothing'}</td>
      <td className="soft small">
        {when(s.changedAt)}
        <div>by {s.changedBy}</div>
      </td>
      <td>
        <span className="row">
          <Input.Password
            size="small"
            className={css.value}
            autoComplete="new-password"
            aria-label={`new value of ${s.name}`}
            placeholder="kept; type to replace"
            value={value}
            onChange={(e) => setValue(e.target.value)}
            onPressEnter={() => value && keep()}
          />
          {value && (
            <Button size="small" type="primary" loading={put.isPending} onClick={keep}>
              Keep
            </Button>
          )}
        </span>
        {(put.isError || remove.isError) && <ErrorText error={put.error ?? remove.error} />}
      </td>
      <td>
        <Button size="small" type="text" disabled={s.usedBy.length > 0} onClick={() => remove.mutate()}>
          Remove
        </Button>
      </td>
    </tr>
  );
}

function Add() {
  const [name, setName] = useState('');
  const [value, setValue] = useState('');
  const [place, setPlace] = useState('');
  const { put } = useDeeds(name);
  const add = () =>
    put.mutate(
      { value, place: place || undefined },
      {
        onSuccess: () => {
          setName('');
          setValue('');
          setPlace('');
        },
      },
    );
  return (
    <div className={css.add}>
      <div className={`row wrap ${css.fields}`}>
        <Field label="Add a secret: its name" id="secret-name">
          <Input id="secret-name" className="mono" value={name} onChange={(e) => setName(e.target.value)} />
        </Field>
        <Field label="Its value" id="secret-value">
          <Input.Password
            id="secret-value"
            autoComplete="new-password"
            value={value}
            onChange={(e) => setValue(e.target.value)}
          />
        </Field>
        <Field label="The address it is for" id="secret-place">
          <Input
            id="secret-place"
            className={`mono ${css.place}`}
            placeholder="https://…, or said later"
            value={place}
            onChange={(e) => setPlace(e.target.value)}
          />
        </Field>
        <Button type="primary" disabled={!name.trim() || !value} loading={put.isPending} onClick={add}>
          Add
        </Button>
      </div>
      {put.isError && <ErrorText error={put.error} />}
    </div>
  );
}

/** How they are kept. */
const Key = ({ view }: { view: Api<'SecretsView'> }) => (
  <p className="soft small">
    Encrypted with the key <span className="mono">{view.key}</span>, which is outside the database.
    {view.olderKeys > 0 &&
      ` ${plural(view.olderKeys, 'older key')} can be taken away: nothing is sealed with them any more.`}
    {view.unreadable > 0 && (
      <Status mood="bad">{plural(view.unreadable, 'secret')} cannot be read with the keys there are</Status>
    )}
  </p>
);
