import { useMutation } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import type { ConnectionView, Findings } from '../api/types';
import { useEnvironment } from '../app/environment';
import { Suggest } from '../common/Suggest';
import { plural } from '../common/format';
import { ErrorText } from '../common/ui';
import css from './RegistrySearch.module.css';

/** Asks a UDDI registry for businesses and services by name, and takes the WSDL of one. */
export function RegistrySearch({ connections, take }: { connections: ConnectionView[]; take: (url: string) => void }) {
  const environment = useEnvironment();
  const [where, setWhere] = useState(() => connections.find((c) => /uddi|registry/i.test(c.name))?.name ?? '');
  const [text, setText] = useState('');
  const guess = where || connections.find((c) => /uddi|registry/i.test(c.name))?.name || '';
  const find = useMutation({
    mutationFn: () =>
      api.post<Findings>('/registry/find', {
        text,
        environment,
        ...(/^https?:/.test(guess) ? { url: guess } : { connection: guess }),
      }),
  });
  const keys = (e: React.KeyboardEvent) => {
    if (e.key === 'Enter') find.mutate();
  };
  return (
    <div className={css.gap}>
      <h2>Or find it in a UDDI registry</h2>
      <div className={`row ${css.bar}`}>
        <Suggest
          label="registry"
          width={300}
          placeholder="connection, or inquiry address"
          value={guess}
          onChange={setWhere}
          options={connections.map((c) => c.name)}
        />
        <Input
          aria-label="business or service"
          className={css.businessOrService}
          placeholder="business or service, or part of its name"
          value={text}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={keys}
        />
        <Button disabled={!guess} loading={find.isPending} onClick={() => find.mutate()}>
          Ask the registry
        </Button>
        {find.data && (
          <span className="soft small num">
            {plural(find.data.found.length, 'binding')}, UDDI {find.data.version}
          </span>
        )}
      </div>
      {find.isError && <ErrorText error={find.error} />}
      {find.data?.found.length === 0 && <div className="soft">Nothing there has that name.</div>}
      {find.data && find.data.found.length > 0 && (
        <div className="panel">
          <table className="grid">
            <thead>
              <tr>
                <th>business</th>
                <th>service</th>
                <th>endpoint</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {find.data.found.map((f, i) => (
                <tr key={i}>
                  <td className="soft">{f.business}</td>
                  <td>
                    <b className="strong">{f.service}</b> <span className="soft small">{f.description}</span>
                  </td>
                  <td className={`mono ${css.cell}`}>
                    <div className="cut" title={f.address}>
                      {f.address}
                    </div>
                  </td>
                  <td className="right nowrap">
                    {f.wsdl ? (
                      <Button size="small" title={f.wsdl} onClick={() => take(f.wsdl ?? '')}>
                        Import its WSDL
                      </Button>
                    ) : (
                      <span className="faint small">the registry names no WSDL</span>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </div>
  );
}
