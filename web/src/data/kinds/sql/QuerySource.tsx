import { Input, Select } from 'antd';
import { useEffect, useState } from 'react';
import { useConnectionsOf } from '../../../connections';
import { parametersOf } from '../../../common/sqlParameters';
import type { SourceDraft } from '../kind';
import { QueryParameters } from './QueryParameters';
import { taken, type Draft } from './rules';
import css from './QuerySource.module.css';

/** How long typing rests before the database is asked. */
const REST_MILLIS = 500;

/** The database and the query over it; the preview follows when typing rests. */
export function QuerySource({ settings, set, isNew }: SourceDraft) {
  const databases = useConnectionsOf('database');
  const [draft, setDraft] = useState<Draft>({ query: settings.query ?? '', parameters: settings.parameters ?? [] });
  useEffect(() => {
    const t = setTimeout(() => set((s) => taken(s, draft)), REST_MILLIS);
    return () => clearTimeout(t);
  }, [draft, set]);
  const write = (query: string) => setDraft((d) => ({ query, parameters: parametersOf(query, d.parameters) }));
  return (
    <>
      <div className={`row ${css.bar}`}>
        <span className="soft">over</span>
        <Select
          size="small"
          aria-label="connection"
          className={css.connection}
          value={settings.connection}
          onChange={(connection) => set((s) => ({ ...s, connection }))}
          options={databases.map((d) => ({ value: d.name, label: d.name }))}
        />
        <span className="faint small">the preview follows as you type</span>
        {isNew && <span className="faint small">give it a name once it shows records</span>}
      </div>
      <Input.TextArea
        aria-label="query"
        autoFocus={isNew}
        className="mono"
        spellCheck={false}
        autoSize={{ minRows: 3, maxRows: 12 }}
        placeholder="SELECT … FROM … WHERE arrival >= :since"
        value={draft.query}
        onChange={(e) => write(e.target.value)}
        onBlur={() => set((s) => taken(s, draft))}
      />
      <QueryParameters
        parameters={draft.parameters}
        change={(name, by) =>
          setDraft((d) => ({ ...d, parameters: d.parameters.map((p) => (p.name === name ? { ...p, ...by } : p)) }))
        }
      />
    </>
  );
}
