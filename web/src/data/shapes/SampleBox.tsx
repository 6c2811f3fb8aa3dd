import { Button, Input } from 'antd';
import { useRef, useState } from 'react';
import { api, seg } from '../../api/client';
import type { Api } from '../../api/types';
import { ErrorText } from '../../common/ui';
import { isText, type Sample } from './samples';
import css from './Shapes.module.css';

interface Props {
  samples: Sample[];
  add: (s: Sample) => void;
  drop: (name: string) => void;
  isPending: boolean;
}

/** Samples of a document, pasted or dropped; or its schema. */
export function SampleBox({ samples, add, drop, isPending }: Props) {
  const [text, setText] = useState('');
  const [over, setOver] = useState(false);
  const [error, setError] = useState<unknown>();
  const chooser = useRef<HTMLInputElement>(null);
  const take = async (files: FileList | null) => {
    setError(undefined);
    try {
      for (const f of [...(files ?? [])]) {
        if (isText(f.name)) add({ name: f.name, text: await f.text() });
        else {
          const stored = await api.post<Api<'StoredFile'>>(`/data/files?name=${seg(f.name)}`, f);
          add({ name: f.name, upload: stored.id });
        }
      }
    } catch (e) {
      setError(e);
    }
  };
  const paste = () => {
    add({ name: 'pasted', text });
    setText('');
  };
  return (
    <div
      className={css.samples}
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        void take(e.dataTransfer.files);
      }}
    >
      <label className="field-label" htmlFor="sample">
        {samples.length ? 'Another sample of the same document' : 'A sample of the document, or its schema'}
      </label>
      <Input.TextArea
        id="sample"
        autoFocus
        className="mono"
        autoSize={{ minRows: samples.length ? 1 : 8, maxRows: 16 }}
        placeholder={'{"ship": "Pintail", …}    or    <notice>…</notice>    or    <xs:schema …>'}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && e.ctrlKey && text.trim()) {
            e.preventDefault();
            paste();
          }
        }}
      />
      <div className={`row ${css.bar}`}>
        <Button
          type={samples.length ? 'default' : 'primary'}
          disabled={!text.trim()}
          loading={isPending}
          onClick={paste}
        >
          {samples.length ? 'Learn from this, too' : 'Learn the shape'}
        </Button>
        {samples.map((s) => (
          <span key={s.name} className="soft small nowrap">
            {s.name}{' '}
            <button className="link" aria-label={`without ${s.name}`} onClick={() => drop(s.name)}>
              leave out
            </button>
          </span>
        ))}
      </div>
      <div className={samples.length ? 'soft small' : `drop ${over ? 'over' : ''}`}>
        {samples.length
          ? 'More can be dropped here, or '
          : 'Drop samples here: JSON, XML, delimited files, workbooks; or an XSD or JSON Schema; or '}
        <button className="link" onClick={() => chooser.current?.click()}>
          {samples.length ? 'chosen' : 'choose files'}
        </button>
        <input
          ref={chooser}
          hidden
          multiple
          type="file"
          aria-label="sample files"
          accept=".json,.jsonl,.ndjson,.xml,.xsd,.csv,.tsv,.txt,.xlsx"
          onChange={(e) => void take(e.target.files)}
        />
      </div>
      <ErrorText error={error} />
    </div>
  );
}
