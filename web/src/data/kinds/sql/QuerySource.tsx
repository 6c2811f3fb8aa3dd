import { Input, Select } from 'antd';
import { useEffect, useState } from 'react';
import { useConnectionsOf } from '../../../connections';
import type { SourceDraft } from '../kind';
import css from './QuerySource.module.css';

/** How long typing rests before the database is asked. */
const REST_MILLIS = 500;

/** The database and the query over it; the preview follows when typing rests. */
export function QuerySource({ settings, set, isNew }: SourceDraft) {
  const databases = useConnectionsOf('database');
  const [query, setQuery] = useState(settings.query ?? '');
  useEffect(() => {
    const t = setTimeout(
      () => set((s) => (s.query === query || (!s.query && !query) ? s : { ...s, query })),
      REST_MILLIS,
    );
    return () => clearTimeout(t);
  }, [query, set]);
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
        placeholder="SELECT … FROM …"
        value={query}
        onChange={(e) => setQuery(e.target.value)}
        onBlur={() => set((s) => (s.query === query ? s : { ...s, query }))}
      />
    </>
  );
}
