import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Select, Switch } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { Api, Format, Preview, SourceView } from '../api/types';
import { useEnvironment } from '../app/environment';
import { RecordTable } from '../common/RecordTable';
import { Suggest } from '../common/Suggest';
import { useUndo } from '../common/useUndo';
import { Problem, Status } from '../common/ui';
import { plural } from '../common/format';
import { useConnectionsOf } from '../connections';
import { DELIMITERS } from './delimiters';
import { Scroll } from '../common/Panel';
import css from './SourceEditor.module.css';
import { AboutBox } from '../about';

const ENCODINGS = ['UTF-8', 'windows-1252', 'ISO-8859-1', 'ISO-8859-15', 'UTF-16'];

interface Settings {
  file?: string;
  fileName?: string;
  format?: Format;
  connection?: string;
  query?: string;
}

/** A source and its real records on one page; every change shows at once. */
export function SourceEditor({ source }: { source?: SourceView }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const environment = useEnvironment();
  const undo = useUndo();
  const [kind, setKind] = useState<string | undefined>(source?.kind);
  const [name, setName] = useState(source?.name ?? '');
  const [settings, setSettings] = useState<Settings>(source?.settings ?? {});
  const [over, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const databases = useConnectionsOf('database');
  const upload = useMutation({
    mutationFn: (f: File) => api.post<Api<'StoredFile'>>(`/data/files?name=${seg(f.name)}`, f),
    onSuccess: (f) => {
      setKind('csv');
      setSettings({ file: f.id, fileName: f.name, format: f.format });
      if (!name) setName(f.name.replace(/\.\w+$/, ''));
    },
  });
  const [query, setQuery] = useState(settings.query ?? '');
  useEffect(() => {
    const t = setTimeout(
      () => setSettings((s) => (s.query === query || (!s.query && !query) ? s : { ...s, query })),
      500,
    );
    return () => clearTimeout(t);
  }, [query]);
  const ready =
    kind === 'csv' ? !!settings.file : kind === 'sql' ? !!settings.connection && !!settings.query?.trim() : false;
  const preview = useQuery({
    queryKey: ['preview', kind, settings, environment],
    enabled: ready,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) =>
      api.post<Preview>(`/data/preview?environment=${seg(environment)}&limit=100`, { kind, settings }, signal),
  });
  const save = useMutation({
    mutationFn: () =>
      api.put(`/data/sources/${seg(name.trim())}`, {
        kind,
        settings: { ...settings, query: kind === 'sql' ? query : undefined },
      }),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go(`/data/sources/${seg(name.trim())}`);
    },
  });
  const remove = useMutation({
    mutationFn: () => api.delete(`/data/sources/${seg(name)}`),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go('/data');
      undo(`Removed ${name}.`, async () => {
        await api.put(`/data/sources/${seg(name)}`, { kind, settings: source!.settings });
        await queries.invalidateQueries();
      });
    },
  });
  const format = (f: Partial<Format>) => setSettings({ ...settings, format: { ...settings.format!, ...f } });
  const take = (files: FileList | null) => {
    if (files?.[0]) upload.mutate(files[0]);
  };
  const changed = !source || JSON.stringify({ ...source.settings }) !== JSON.stringify({ ...settings });
  return (
    <div
      className={css.frame}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        take(e.dataTransfer.files);
      }}
    >
      <input
        ref={chooser}
        hidden
        type="file"
        aria-label="data file"
        accept=".csv,.txt,.tsv,text/csv,text/plain"
        onChange={(e) => take(e.target.files)}
      />
      <div className={`row ${css.bar}`}>
        {source ? (
          <h1>{source.name}</h1>
        ) : (
          <>
            <h1>New source</h1>
            {ready && (
              <Input
                aria-label="source name"
                placeholder="name"
                className={css.sourceName}
                value={name}
                onChange={(e) => setName(e.target.value)}
              />
            )}
          </>
        )}
        {ready && (
          <Button
            type={changed ? 'primary' : 'default'}
            disabled={!name.trim() || !changed}
            loading={save.isPending}
            onClick={() => save.mutate()}
          >
            {changed ? 'Keep' : 'Kept'}
          </Button>
        )}
        {preview.data && (
          <span className="soft">
            {preview.data.problem
              ? ''
              : `${plural(preview.data.records.length, 'record')} shown${preview.data.more ? ', there are more' : ''}`}
          </span>
        )}
        {source && (
          <Button type="text" className="push" onClick={() => remove.mutate()}>
            Remove
          </Button>
        )}
      </div>
      <div className={css.area}>
        {!kind && (
          <div className={css.wide}>
            <div className={`drop ${over ? 'over' : ''}`}>
              Drop a delimited file here, or{' '}
              <button className="link" onClick={() => chooser.current?.click()}>
                choose one
              </button>
              . Its delimiter, encoding and header are recognised.
            </div>
            <p className="soft">
              Or read from a database:{' '}
              {databases.length ? (
                databases.map((d) => (
                  <Button
                    key={d.name}
                    size="small"
                    className={css.action}
                    onClick={() => {
                      setKind('sql');
                      setSettings({ connection: d.name });
                    }}
                  >
                    query {d.name}
                  </Button>
                ))
              ) : (
                <button className="link" onClick={() => void go('/connections/new')}>
                  add a database connection
                </button>
              )}
            </p>
          </div>
        )}
        {source && <AboutBox kind="source" name={source.name} />}
        {kind === 'csv' && settings.format && (
          <div className="row wrap">
            <span className="mono">{settings.fileName}</span>
            <Button size="small" loading={upload.isPending} onClick={() => chooser.current?.click()}>
              Replace the file
            </Button>
            <span className="soft">delimiter</span>
            <Select
              size="small"
              aria-label="delimiter"
              className={css.delimiter}
              value={settings.format.delimiter}
              onChange={(v) => format({ delimiter: v })}
              options={DELIMITERS}
            />
            <span className="soft">encoding</span>
            <Suggest
              small
              label="encoding"
              width={130}
              value={settings.format.encoding}
              onChange={(v) => format({ encoding: v })}
              options={ENCODINGS}
            />
            <span className="soft">first line has the names</span>
            <Switch
              size="small"
              aria-label="header"
              checked={settings.format.header}
              onChange={(v) => format({ header: v })}
            />
          </div>
        )}
        {kind === 'sql' && (
          <>
            <div className={`row ${css.bar2}`}>
              <span className="soft">over</span>
              <Select
                size="small"
                aria-label="connection"
                className={css.connection}
                value={settings.connection}
                onChange={(v) => setSettings({ ...settings, connection: v })}
                options={databases.map((d) => ({ value: d.name, label: d.name }))}
              />
              <span className="faint small">the preview follows as you type</span>
              {!source && !name && <span className="faint small">give it a name once it shows records</span>}
            </div>
            <Input.TextArea
              aria-label="query"
              autoFocus={!source}
              className="mono"
              spellCheck={false}
              autoSize={{ minRows: 3, maxRows: 12 }}
              placeholder="SELECT … FROM …"
              value={query}
              onChange={(e) => setQuery(e.target.value)}
            />
          </>
        )}
        {upload.isError && <Problem error={upload.error} />}
        {save.isError && <Problem error={save.error} />}
        {preview.isError && (
          <div className={css.gap}>
            <Problem error={preview.error} />
          </div>
        )}
        {preview.data?.warning && <div className={`notice warn ${css.gap}`}>{preview.data.warning}</div>}
        {remove.isError && (
          <div className={css.gap}>
            <Problem error={remove.error} />
          </div>
        )}
        {preview.data?.problem && (
          <div className={css.gap}>
            <Status mood="bad">{preview.data.problem}</Status>
          </div>
        )}
      </div>
      <Scroll label="records">
        {ready && preview.data && preview.data.fields.length > 0 && (
          <RecordTable fields={preview.data.fields} records={preview.data.records} />
        )}
      </Scroll>
    </div>
  );
}
