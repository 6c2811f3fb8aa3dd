import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Segmented, Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, seg } from '../api/client';
import type { ConnectionView, Field } from '../api/types';
import { useEnvironment } from '../app/environment';
import { Suggest } from '../common/Suggest';
import { plural } from '../common/format';
import { Problem } from '../common/ui';

/** Makes a target: a table that is there, or one made from fields; or a delimited file. */
export function TargetMaker({
  fields,
  suggestedName,
  onMade,
}: {
  fields?: Field[];
  suggestedName?: string;
  onMade: (name: string) => void;
}) {
  const queries = useQueryClient();
  const environment = useEnvironment();
  const connections = useQuery({ queryKey: ['connections'], queryFn: () => api.get<ConnectionView[]>('/connections') });
  const databases = (connections.data ?? []).filter((c) => c.kind === 'database');
  const [kind, setKind] = useState<'sql' | 'csv'>('sql');
  const [connection, setConnection] = useState<string>();
  const [table, setTable] = useState('');
  const [file, setFile] = useState(`${suggestedName ?? 'results'}.csv`);
  const [replace, setReplace] = useState<boolean>();
  const over = connection ?? databases[0]?.name;
  const tables = useQuery({
    queryKey: ['tables', over, environment],
    enabled: kind === 'sql' && !!over,
    retry: false,
    queryFn: () => api.get<string[]>(`/connections/${seg(over)}/tables?environment=${seg(environment)}`),
  });
  const exists = tables.data?.includes(table) ?? false;
  const make = useMutation({
    mutationFn: async () => {
      const name = kind === 'sql' ? table.slice(table.indexOf('.') + 1) : file.replace(/\.\w+$/, '');
      if (kind === 'sql' && !exists && fields)
        await api.post('/data/tables', { connection: over, environment, table, fields });
      await api.put(
        `/data/targets/${seg(name)}`,
        kind === 'sql'
          ? { kind, settings: { connection: over, table } }
          : {
              kind,
              settings: {
                file,
                replace,
                columns: fields?.map((f) => f.label) ?? [],
                format: { delimiter: ';', quote: '"', encoding: 'UTF-8', header: true },
              },
            },
      );
      return name;
    },
    onSuccess: async (name) => {
      await queries.invalidateQueries();
      onMade(name);
    },
  });
  const ready =
    kind === 'sql' ? !!over && !!table.trim() && (exists || !!fields) : !!file.trim() && replace !== undefined;
  return (
    <div style={{ maxWidth: 620 }}>
      <label className="field-label">What it is</label>
      <Segmented
        value={kind}
        onChange={(v) => setKind(v as 'sql' | 'csv')}
        options={[
          { value: 'sql', label: 'a table' },
          { value: 'csv', label: 'a delimited file' },
        ]}
      />
      {kind === 'sql' ? (
        <>
          <label className="field-label">Table {fields ? '(a new name makes the table)' : ''}</label>
          <div className="row">
            {databases.length ? (
              <Select
                aria-label="database"
                style={{ width: 170 }}
                value={over}
                onChange={setConnection}
                options={databases.map((d) => ({ value: d.name, label: d.name }))}
              />
            ) : (
              <Link to="/connections/new">add a database connection first</Link>
            )}
            <Suggest
              mono
              label="table"
              width={300}
              placeholder="schema.table"
              value={table}
              onChange={setTable}
              options={tables.data ?? []}
            />
          </div>
          {tables.isError && <Problem error={tables.error} />}
        </>
      ) : (
        <>
          <label className="field-label" htmlFor="target-file">
            File name
          </label>
          <Input
            id="target-file"
            className="mono"
            style={{ width: 300 }}
            value={file}
            onChange={(e) => setFile(e.target.value)}
          />
          <label className="field-label">What a run does with it</label>
          <Segmented
            value={replace === undefined ? '' : replace ? 'replace' : 'append'}
            onChange={(v) => setReplace(v === 'replace')}
            options={[
              { value: 'append', label: 'adds to it' },
              { value: 'replace', label: 'replaces it at the end' },
            ]}
          />
        </>
      )}
      <div style={{ marginTop: 14 }} className="row">
        <Button type="primary" disabled={!ready} loading={make.isPending} onClick={() => make.mutate()}>
          {kind === 'sql' && !exists && fields && table
            ? `Make the table with ${plural(fields.length, 'column')}`
            : 'Make the target'}
        </Button>
      </div>
      {make.isError && (
        <div style={{ marginTop: 10 }}>
          <Problem error={make.error} />
        </div>
      )}
    </div>
  );
}
