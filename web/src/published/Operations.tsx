import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, Select } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { Api, OperationPath } from '../api/types';
import { isLive, useEnvironment } from '../app/environment';
import { useConnectionsOf } from '../connections';
import { useContracts } from '../contracts';
import { Field } from '../common/Field';
import { Toolbar } from '../common/Panel';
import { ErrorText, Status } from '../common/ui';
import { METHODS } from './endpoint';
import { endpointKeys, useOperationPaths } from './queries';
import css from './Operations.module.css';

/** Has operations of a contract be asked with JSON: each gets a path, a flow that may be changed, and a reply. */
export function Operations({ contract: first }: { contract?: string }) {
  const contracts = useContracts().data;
  const [contract, setContract] = useState(first);
  const paths = useOperationPaths(contract);
  return (
    <section className={`panel ${css.operations}`} aria-label="operations">
      <Toolbar>
        <h2>Operations to be asked with JSON</h2>
        <Select
          aria-label="contract"
          className={css.contract}
          placeholder="choose a contract"
          value={contract}
          onChange={setContract}
          options={contracts?.map((c) => ({ value: c.name, label: c.name }))}
        />
      </Toolbar>
      <ErrorText error={paths.error} />
      {contract && paths.data && <Paths key={contract} contract={contract} proposed={paths.data} />}
    </section>
  );
}

function Paths({ contract, proposed }: { contract: string; proposed: OperationPath[] }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const environment = useEnvironment();
  const connections = useConnectionsOf('soap');
  const [connection, setConnection] = useState<string>();
  const [rows, setRows] = useState(() => proposed.map((p) => ({ ...p, on: p.published === undefined })));
  const chosen = rows.filter((r) => r.on);
  const over =
    connection ??
    likely(
      contract,
      connections.map((c) => c.name),
    );
  const make = useMutation({
    mutationFn: () =>
      api.post<Api<'MadeEndpoints'>>(`/contracts/${seg(contract)}/endpoints`, {
        connection: over,
        environment,
        operations: chosen.map(({ port, operation, method, path }) => ({ port, operation, method, path })),
      }),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: endpointKeys.all });
      void go(`/published/${seg(made.names[0])}`);
    },
  });
  const change = (n: number, by: Partial<(typeof rows)[number]>) =>
    setRows(rows.map((r, i) => (i === n ? { ...r, ...by } : r)));
  return (
    <>
      <table className="grid">
        <thead>
          <tr>
            <th className={css.tick} aria-label="chosen" />
            <th>operation</th>
            <th className={css.method}>method</th>
            <th>path</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((r, n) => (
            <tr key={r.operation}>
              <td>
                <Checkbox
                  aria-label={`publish ${r.operation}`}
                  checked={r.on}
                  onChange={(e) => change(n, { on: e.target.checked })}
                />
              </td>
              <td>
                {r.operation}
                {r.published && <span className="soft"> · asked already by {r.published}</span>}
              </td>
              <td>
                <Select
                  size="small"
                  aria-label={`method of ${r.operation}`}
                  className={css.method}
                  value={r.method}
                  onChange={(method) => change(n, { method })}
                  options={METHODS.map((m) => ({ value: m, label: m }))}
                />
              </td>
              <td>
                <Input
                  size="small"
                  className="mono"
                  addonBefore="/http"
                  aria-label={`path of ${r.operation}`}
                  value={r.path}
                  onChange={(e) => change(n, { path: e.target.value })}
                />
              </td>
            </tr>
          ))}
          {rows.length === 0 && (
            <tr>
              <td colSpan={4} className="soft">
                No operation of this contract can be called.
              </td>
            </tr>
          )}
        </tbody>
      </table>
      <div className={css.deed}>
        <Field label="Called over" id="operations-connection">
          <Select
            id="operations-connection"
            aria-label="connection"
            className={css.contract}
            placeholder="choose a connection"
            value={over}
            onChange={setConnection}
            options={connections.map((c) => ({ value: c.name, label: c.name }))}
          />
        </Field>
        <Button
          type="primary"
          disabled={!over || chosen.length === 0}
          loading={make.isPending}
          onClick={() => make.mutate()}
        >
          Publish {chosen.length === 1 ? '1 operation' : `${chosen.length} operations`} in {environment}
        </Button>
        {isLive(environment) && <Status mood="warn">its calls are in earnest</Status>}
      </div>
      <ErrorText error={make.error} />
    </>
  );
}

const plain = (name: string) => name.toLowerCase().replace(/[^a-z0-9]/g, '');

/** The connection whose name is most like the contract's; the only one there is. */
function likely(contract: string, names: string[]): string | undefined {
  const of = plain(contract);
  return (
    names.find((n) => plain(n) === of) ??
    names.find((n) => of.includes(plain(n)) || plain(n).includes(of)) ??
    names.find((n) => of.startsWith(plain(n.split(/[^A-Za-z0-9]/)[0]))) ??
    (names.length === 1 ? names[0] : undefined)
  );
}
