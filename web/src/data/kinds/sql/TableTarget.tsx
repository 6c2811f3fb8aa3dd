import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Checkbox, Select } from 'antd';
import { useEffect } from 'react';
import { Link } from 'react-router';
import { api, seg } from '../../../api/client';
import type { Field as ColumnField } from '../../../api/types';
import { useEnvironment } from '../../../app/environment';
import { Field } from '../../../common/Field';
import { Suggest } from '../../../common/Suggest';
import { ErrorText } from '../../../common/ui';
import { useConnectionsOf } from '../../../connections';
import type { TargetMakerProps } from '../kind';
import { isMade, madeOf } from './rules';
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
        <div className={css.does}>
          <WriteMode mode={wish.mode} keys={wish.keys} columns={fields} set={(mode, keys) => change({ mode, keys })} />
        </div>
      )}
      {fields && over && isMade({ ...wish, exists }) && (
        <Statement fields={fields} connection={over} wish={wish} change={change} />
      )}
      {tables.isError && <ErrorText error={tables.error} />}
    </Field>
  );
}

type StatementProps = Pick<TargetMakerProps, 'wish' | 'change'> & { fields: ColumnField[]; connection: string };

/** What will make the table. */
function Statement({ fields, connection, wish, change }: StatementProps) {
  const environment = useEnvironment();
  const made = { connection, environment, table: wish.table, fields: madeOf(fields, wish.asSeen) };
  const statement = useQuery({
    queryKey: ['table-statement', made],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<{ sql: string }>('/data/tables/statement', made, signal),
  });
  const isSeen = fields.some((f) => f.length !== undefined);
  return (
    <div className={css.statement}>
      {isSeen && (
        <Checkbox checked={!!wish.asSeen} onChange={(e) => change({ asSeen: e.target.checked })}>
          no longer than the texts seen, and never empty where none was
        </Checkbox>
      )}
      <pre className="mono small">{statement.data?.sql}</pre>
      {statement.isError && <ErrorText error={statement.error} />}
    </div>
  );
}
