import { Checkbox, Input, InputNumber, Select } from 'antd';
import type { RowsTrigger } from '../api/types';
import { Field } from '../common/Field';
import { useConnectionsOf } from '../connections';
import { Paces } from './Parts';
import css from './EndpointFields.module.css';

interface Props {
  rows: RowsTrigger;
  by: (change: Partial<RowsTrigger>) => void;
  /** Up to where they were taken. */
  reached?: string;
}

/** The query whose new rows are taken. */
export function FromRows({ rows, by, reached }: Props) {
  const databases = useConnectionsOf('database');
  return (
    <>
      <div className={css.pair}>
        <Field label="Takes new rows of" id="rows-connection">
          <Select
            id="rows-connection"
            aria-label="connection"
            className={css.wide}
            placeholder="choose a database"
            value={rows.connection || undefined}
            onChange={(connection) => by({ connection })}
            options={databases.map((c) => ({ value: c.name, label: c.name }))}
          />
        </Field>
        <Field label="Column that rises with every row" id="rows-column">
          <Input
            id="rows-column"
            className="mono"
            placeholder="id"
            value={rows.column}
            onChange={(e) => by({ column: e.target.value })}
          />
        </Field>
      </div>
      <Field label="Query: inputs of the flow are its columns, by their names" id="rows-query">
        <Input.TextArea
          id="rows-query"
          className="mono"
          autoSize={{ minRows: 2, maxRows: 10 }}
          placeholder="SELECT id, vessel, draught FROM harbour.port_call"
          value={rows.query}
          onChange={(e) => by({ query: e.target.value })}
        />
      </Field>
      <Checkbox checked={!!rows.earlier} onChange={(e) => by({ earlier: e.target.checked || undefined })}>
        also the rows that are there when it is switched on first
      </Checkbox>
      {reached !== undefined && (
        <p className="soft small">
          Taken up to <span className="mono">{reached}</span>; rows of the last minute are looked at again, since one
          may be seen later than those above it.
        </p>
      )}
      <Paces of={rows} by={by} most={16} usual={{ atATime: 2, attempts: 3 }} />
      <Field label="Seconds between two looks" id="rows-every">
        <InputNumber
          id="rows-every"
          min={1}
          max={86_400}
          value={rows.everySeconds ?? 10}
          onChange={(n) => by({ everySeconds: n ?? undefined })}
        />
      </Field>
    </>
  );
}
