import { Button, Input } from 'antd';
import { useRef, useState } from 'react';
import { AboutBox } from '../about';
import type { SourceView } from '../api/types';
import { plural } from '../common/format';
import { Scroll } from '../common/Panel';
import { RecordTable } from '../common/RecordTable';
import { ErrorText, Status } from '../common/ui';
import { SOURCES, sourceKind } from './kinds';
import { useSourceDraft } from './useSourceDraft';
import css from './SourceEditor.module.css';

/** A source and its real records on one page; every change shows at once. */
export function SourceEditor({ source }: { source?: SourceView }) {
  const d = useSourceDraft(source);
  const [over, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const take = (files: FileList | null) => {
    if (files?.[0]) d.upload.mutate(files[0]);
  };
  const choose = () => chooser.current?.click();
  const Settings = sourceKind(d.kind)?.Settings;
  const seen = d.preview.data;
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
        <h1>{source?.name ?? 'New source'}</h1>
        {!source && d.isReady && (
          <Input
            aria-label="source name"
            placeholder="name"
            className={css.sourceName}
            value={d.name}
            onChange={(e) => d.setName(e.target.value)}
          />
        )}
        {d.isReady && (
          <Button
            type={d.changed ? 'primary' : 'default'}
            disabled={!d.name.trim() || !d.changed}
            loading={d.save.isPending}
            onClick={() => d.save.mutate()}
          >
            {d.changed ? 'Keep' : 'Kept'}
          </Button>
        )}
        {seen && !seen.problem && (
          <span className="soft">
            {plural(seen.records.length, 'record')} shown{seen.more ? ', there are more' : ''}
          </span>
        )}
        {source && (
          <Button type="text" className="push" onClick={() => d.remove.mutate()}>
            Remove
          </Button>
        )}
      </div>
      <div className={css.area}>
        {!d.kind && (
          <div className={css.wide}>
            {SOURCES.map(({ kind, Begin }) => (
              <Begin key={kind} begin={(s) => d.begin(kind, s)} choose={choose} over={over} />
            ))}
          </div>
        )}
        {source && <AboutBox kind="source" name={source.name} />}
        {Settings && (
          <Settings
            settings={d.settings}
            set={d.set}
            isNew={!source}
            upload={{ choose, isPending: d.upload.isPending }}
          />
        )}
        {[d.upload, d.save, d.preview, d.remove].map(
          (asked, i) =>
            asked.isError && (
              <div key={i} className={css.gap}>
                <ErrorText error={asked.error} />
              </div>
            ),
        )}
        {seen?.warning && <div className={`notice warn ${css.gap}`}>{seen.warning}</div>}
        {seen?.problem && (
          <div className={css.gap}>
            <Status mood="bad">{seen.problem}</Status>
          </div>
        )}
      </div>
      <Scroll label="records">
        {d.isReady && seen && seen.fields.length > 0 && <RecordTable fields={seen.fields} records={seen.records} />}
      </Scroll>
    </div>
  );
}
