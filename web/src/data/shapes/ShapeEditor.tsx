import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { AboutBox } from '../../about';
import type { DocumentShape } from '../../api/types';
import { plural } from '../../common/format';
import { MessageEditor } from '../../common/MessageEditor';
import { MessageText } from '../../common/MessageText';
import { Scroll } from '../../common/Panel';
import { ErrorText, Status, Tabs } from '../../common/ui';
import { useReadShape } from './queries';
import { SampleBox } from './SampleBox';
import { ShapeTable } from './ShapeTable';
import css from './Shapes.module.css';
import { useShapeDraft } from './useShapeDraft';

const WORDS: Record<string, string> = { xsd: 'XSD', 'json-schema': 'JSON Schema' };

/** A shape: its schema, which may be learnt from samples and is mended by hand, and the fields that it has. */
export function ShapeEditor({ shape }: { shape?: DocumentShape }) {
  const d = useShapeDraft(shape);
  const isBegun = d.settings.files.length > 0;
  return (
    <div className={css.frame}>
      <div className={`row ${css.head}`}>
        <h1>{shape?.name ?? 'New shape'}</h1>
        {!shape && isBegun && (
          <Input
            aria-label="shape name"
            placeholder="name"
            className={css.name}
            value={d.name}
            onChange={(e) => d.setName(e.target.value)}
          />
        )}
        {isBegun && (
          <Button
            type={d.changed ? 'primary' : 'default'}
            disabled={!d.name.trim() || !d.changed}
            loading={d.save.isPending}
            onClick={() => d.save.mutate()}
          >
            {d.changed ? 'Keep' : 'Kept'}
          </Button>
        )}
        {isBegun && <span className="soft">documents of {d.kind === 'xsd' ? 'XML' : 'JSON'}</span>}
        {shape && (
          <Button type="text" className="push" onClick={() => d.remove.mutate()}>
            Remove
          </Button>
        )}
      </div>
      <div className={css.box}>
        {shape && <AboutBox kind="shape" name={shape.name} />}
        {!shape && <SampleBox samples={d.samples} add={d.add} drop={d.drop} isPending={d.learn.isPending} />}
        {[d.learn, d.save, d.remove].map((asked, i) => asked.isError && <ErrorText key={i} error={asked.error} />)}
      </div>
      {isBegun && <Understood d={d} />}
    </div>
  );
}

/** The schema at the left, what it comes to at the right. */
function Understood({ d }: { d: ReturnType<typeof useShapeDraft> }) {
  const [file, setFile] = useState(0);
  const [opened, setOpened] = useState<string[]>([]);
  const [view, setView] = useState<'fields' | 'example'>('fields');
  const read = useReadShape(d.kind, d.settings, opened);
  const at = Math.min(file, d.settings.files.length - 1);
  const notes = [...d.notes, ...(read.data?.notes ?? [])];
  return (
    <div className={css.columns}>
      <section className={css.column} aria-label="schema">
        <div className={`row small ${css.bar}`}>
          <h2>{WORDS[d.kind]}</h2>
          {d.settings.files.length > 1 && (
            <Select
              size="small"
              aria-label="file of the schema"
              value={at}
              onChange={setFile}
              popupMatchSelectWidth={false}
              options={d.settings.files.map((f, i) => ({ value: i, label: f.name }))}
            />
          )}
        </div>
        <div className={css.text}>
          <MessageEditor
            label="schema"
            isXml={d.kind === 'xsd'}
            hasNumbers
            value={d.settings.files[at].text}
            onChange={(text) => d.setText(at, text)}
          />
        </div>
      </section>
      <section className={css.column} aria-label="what it comes to">
        <div className={`row small ${css.bar}`}>
          <Tabs
            value={view}
            onChange={setView}
            items={[
              { id: 'fields', label: 'Fields' },
              { id: 'example', label: 'Smallest document' },
            ]}
          />
          {read.data && read.data.roots.length > 1 && (
            <Select
              size="small"
              showSearch
              aria-label="a document is"
              value={d.settings.root ?? read.data.roots[0]}
              onChange={d.setRoot}
              popupMatchSelectWidth={false}
              options={read.data.roots.map((r) => ({ value: r, label: r }))}
            />
          )}
          {read.isError ? (
            <Status mood="bad">cannot be read</Status>
          ) : (
            notes.length === 0 && read.data && <Status mood="ok">{plural(read.data.rows.length, 'row')}</Status>
          )}
        </div>
        <Scroll label="what the schema comes to" className={css.rows}>
          {read.isError && <ErrorText error={read.error} />}
          {notes.map((n, i) => (
            <div key={i} className={`notice small ${n.severity === 'INFO' ? 'warn' : n.severity.toLowerCase()}`}>
              {n.text} {n.assumed}
            </div>
          ))}
          {!read.isError && read.data && view === 'fields' && (
            <ShapeTable rows={read.data.rows} open={(p) => setOpened([...opened, p])} />
          )}
          {!read.isError && read.data && view === 'example' && <MessageText text={read.data.example} />}
        </Scroll>
      </section>
    </div>
  );
}
