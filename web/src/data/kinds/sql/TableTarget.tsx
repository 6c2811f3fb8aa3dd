import { useQuery } from '@tanstack/react-query';
import { Select } from 'antd';
import { useEffect } from 'react';
import { Link } from 'react-router';
import { api, seg } from '../../../api/client';
import { useEnvironment } from '../../../app/environment';
import { Field } from '../../../common/Field';
import { Suggest } from '../../../common/Suggest';
import { ErrorText } from '../../../common/ui';
import { useConnectionsOf } from '../../../connections';
import type { TargetMakerProps } from '../kind';
import css from './TableTarget.module.css';
import { WriteMode } from './WriteMode';

/** The database and its table. */
export function TableTarget({ wish, change, hasFields, fields }: TargetMakerProps) {
  const environment = useEnvironment();
  const databases = useConnectionsOf('database');
  const over = wish.connection ?? databases[0]?.name;
  const tables = useQuery({
    queryKey: ['tables', over, environment],
    enabled: !!over,
    retry: false,
    queryFn: () => api.get<string[]>(`/connections/${seg(over ?? '')}/tables?environment=${seg(environment)}`),
  });
  const exists = tables.data?.includes(wish.table) ?? false;
  useEffect(() => {
    if (over !== wish.connection || exists !== wish.exists) change({ connection: over, exists });
  }, [over, exists, wish.connection, wish.exists, change]);
  return (
    <Field label={`Table ${hasFields ? '(a new name makes the table)' : ''}`}>
      <div className="row">
        {databases.length ? (
          <Select
            aria-label="database"
            className={css.database}
            value={over}
            onChange={(connection) => change({ connection })}
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
          value={wish.table}
          onChange={(table) => change({ table })}
          options={tables.data ?? []}
        />
      </div>
      {fields && wish.table && (
        <WriteMode mode={wish.mode} keys={wish.keys} columns={fields} set={(mode, keys) => change({ mode, keys })} />
      )}
      {tables.isError && <ErrorText error={tables.error} />}
    </Field>
  );
}
