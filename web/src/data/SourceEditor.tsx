import { Button, Input } from 'antd';
import { useRef, useState } from 'react';
import { AboutBox } from '../about';
import type { Preview, SourceView } from '../api/types';
import { plural } from '../common/format';
import { Scroll } from '../common/Panel';
import { TreeView } from '../common/TreeView';
import { RecordTable } from '../common/RecordTable';
import { ErrorText, Status } from '../common/ui';
import { ACCEPTED } from './accepted';
import { SOURCES, sourceKind } from './kinds';
import { FieldChanges } from './FieldChanges';
import { ReadAs } from './ReadAs';
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
        accept={ACCEPTED}
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
        {seen && seen.unreadable.length > 0 && (
          <Status mood="bad">{plural(seen.unreadable.length, 'record')} of these cannot be read</Status>
        )}
        {seen && !seen.problem && (
          <span className="soft">
            {plural(seen.records.length, 'record')} shown{seen.more ? ', there are more' : ''}
            {d.numbers && (
              <>
                : those that do not agree ·{' '}
                <button className="link" onClick={() => d.setNumbers(undefined)}>
                  show all
                </button>
              </>
            )}
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
            {SOURCES.map(
              ({ kind, Begin }) =>
                Begin && (
                  <Begin
                    key={kind}
                    begin={(s) => d.begin(kind, s)}
                    choose={choose}
                    take={(f) => d.upload.mutate(f)}
                    over={over}
                  />
                ),
            )}
          </div>
        )}
        {source && <AboutBox kind="source" name={source.name} />}
        {Settings && (
          <Settings
            kind={d.kind ?? ''}
            setKind={d.begin}
            fields={seen?.fields ?? []}
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
        {source && d.changed && d.before && seen && !seen.problem && (
          <FieldChanges source={source.name} was={d.before} is={seen.fields} />
        )}
        {seen?.warning && <div className={`notice warn ${css.gap}`}>{seen.warning}</div>}
        {seen?.problem && (
          <div className={css.gap}>
            <Status mood="bad">{seen.problem}</Status>
          </div>
        )}
      </div>
      {d.isReady && seen && <SourceRecords d={d} seen={seen} />}
    </div>
  );
}

/** The records; one of them can be opened. */
function SourceRecords({ d, seen }: { d: ReturnType<typeof useSourceDraft>; seen: Preview }) {
  const [open, setOpen] = useState<number>();
  const opened = open === undefined ? undefined : seen.records[seen.numbers.indexOf(open)];
  return (
    <div className={open === undefined ? css.records : `${css.records} ${css.split}`}>
      <Scroll label="records">
        {seen.fields.length > 0 && (
          <RecordTable
            fields={seen.fields}
            records={seen.records}
            numbers={seen.numbers}
            unreadable={seen.unreadable}
            chosen={open}
            choose={(n) => setOpen(n === open ? undefined : n)}
            about={
              d.kind === 'sql' || d.kind === 'operation'
                ? undefined
                : (column) => (
                    <ReadAs
                      column={column}
                      types={d.settings.types}
                      isGrouped={!!d.settings.group}
                      set={d.set}
                      showOdd={d.setNumbers}
                    />
                  )
            }
          />
        )}
      </Scroll>
      {opened && (
        <Scroll label="the record" className={css.record}>
          <div className="row">
            <h2>Record {open}</h2>
            <Button type="text" size="small" className="push" onClick={() => setOpen(undefined)}>
              Close
            </Button>
          </div>
          <TreeView root={{ ...opened, name: 'record' }} />
        </Scroll>
      )}
    </div>
  );
}
