import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Switch } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { when } from '../common/format';
import { ErrorText } from '../common/ui';
import { grouped } from './certificate';
import { Until } from './ProbeWay';
import { useCertificates } from './queries';
import css from './CertificatesPage.module.css';

/** Certificates that are believed beside those of the system's authorities. */
export function CertificatesPage() {
  const list = useCertificates();
  useEffect(() => {
    document.title = 'Certificates';
  }, []);
  return (
    <div className="page">
      <h1>Certificates</h1>
      <p className="soft">
        Authorities that are believed beside the system’s, where a connection names them, and where descriptions are
        fetched if so chosen here. A probe of a <Link to="/connections">connection</Link> shows those of a service.
      </p>
      {list.isError && <ErrorText error={list.error} />}
      {!!list.data?.length && (
        <table className={`grid ${css.table}`}>
          <thead>
            <tr>
              <th>Whose</th>
              <th>Valid</th>
              <th>SHA-256</th>
              <th>For imports</th>
              <th>Used by</th>
              <th>Added</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {list.data.map((c) => (
              <Row key={c.name} c={c} />
            ))}
          </tbody>
        </table>
      )}
      <Add />
    </div>
  );
}

function Row({ c }: { c: Api<'CertificateView'> }) {
  const queries = useQueryClient();
  const path = `/certificates/${seg(c.name)}`;
  const onSuccess = () => queries.invalidateQueries({ queryKey: ['certificates'] });
  const change = useMutation({ mutationFn: (forImports: boolean) => api.put(path, { forImports }), onSuccess });
  const remove = useMutation({ mutationFn: () => api.delete(path), onSuccess });
  return (
    <tr>
      <td>
        <b>{c.name}</b>
        <div className="soft small">{c.facts.isOwnIssuer ? 'signs itself' : `by ${c.facts.issuer}`}</div>
      </td>
      <td>
        <Until facts={c.facts} />
      </td>
      <td className={`mono small ${css.print}`}>{grouped(c.facts.sha256)}</td>
      <td>
        <Switch
          size="small"
          aria-label={`${c.name} for imports`}
          checked={c.forImports}
          loading={change.isPending}
          onChange={(on) => change.mutate(on)}
        />
      </td>
      <td className="soft">{c.usedBy.join(', ') || 'nothing'}</td>
      <td className="soft small">
        {when(c.addedAt)}
        <div>by {c.addedBy}</div>
      </td>
      <td>
        <Button size="small" type="text" disabled={c.usedBy.length > 0} onClick={() => remove.mutate()}>
          Remove
        </Button>
        {(remove.isError || change.isError) && <ErrorText error={remove.error ?? change.error} />}
      </td>
    </tr>
  );
}

/** Pasted, or out of a file. */
function Add() {
  const queries = useQueryClient();
  const [pem, setPem] = useState('');
  const chooser = useRef<HTMLInputElement>(null);
  const add = useMutation({
    mutationFn: (text: string) => api.post<string[]>('/certificates', { pem: text, forImports: false }),
    onSuccess: async () => {
      setPem('');
      await queries.invalidateQueries({ queryKey: ['certificates'] });
    },
  });
  return (
    <div className={css.add}>
      <label className="field-label" htmlFor="pem">
        Add an authority, in PEM
      </label>
      <Input.TextArea
        id="pem"
        className="mono"
        autoSize={{ minRows: 3, maxRows: 10 }}
        placeholder="-----BEGIN CERTIFICATE-----"
        value={pem}
        onChange={(e) => setPem(e.target.value)}
      />
      <div className={`row ${css.deeds}`}>
        <Button type="primary" disabled={!pem.trim()} loading={add.isPending} onClick={() => add.mutate(pem)}>
          Add
        </Button>
        <button className="link soft small" onClick={() => chooser.current?.click()}>
          or choose a file
        </button>
        <input
          ref={chooser}
          type="file"
          hidden
          aria-label="file with certificates"
          accept=".pem,.crt,.cer"
          onChange={(e) => void e.target.files?.[0]?.text().then(setPem)}
        />
      </div>
      {add.isError && <ErrorText error={add.error} />}
    </div>
  );
}
