import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import { Problem } from '../common/ui';

type ImportBody = { url?: string; text?: string; files?: { name: string; base64: string }[] };

async function base64(f: File): Promise<string> {
  const bytes = new Uint8Array(await f.arrayBuffer());
  let out = '';
  for (let i = 0; i < bytes.length; i += 0x8000) out += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(out);
}

/** One field takes all: an address or the text itself; files are dropped on the page or chosen. */
export function ImportContract() {
  const go = useNavigate();
  const queries = useQueryClient();
  const [text, setText] = useState('');
  const [over, setOver] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const run = useMutation({
    mutationFn: (body: ImportBody) => api.post<{ name: string }>('/contracts', body),
    onSuccess: (r) => { void queries.invalidateQueries(); void go(`/contracts/${seg(r.name)}`); },
  });
  const files = async (list: FileList | null) => {
    if (list?.length) run.mutate({ files: await Promise.all([...list].map(async (f) => ({ name: f.webkitRelativePath || f.name, base64: await base64(f) }))) });
  };
  const isAddress = /^https?:\/\/\S+$/.test(text.trim());
  const submit = () => run.mutate(isAddress ? { url: text.trim() } : { text });
  return (
    <div className="page" onDragOver={(e) => { e.preventDefault(); setOver(true); }} onDragLeave={() => setOver(false)} onDrop={(e) => { e.preventDefault(); setOver(false); void files(e.dataTransfer.files); }}>
      <div style={{ maxWidth: 760 }}>
        <h1>Import a contract</h1>
        <p className="soft">What is repairable in the description is repaired, and the reading notes say what was assumed.</p>
        <label className="field-label" htmlFor="wsdl">Address of the WSDL, or its text</label>
        <Input.TextArea id="wsdl" autoFocus className="mono" autoSize={{ minRows: 3, maxRows: 18 }} placeholder={'https://…?wsdl    or    <definitions …>'} value={text} onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => { if (e.key === 'Enter' && (isAddress || e.ctrlKey) && text.trim()) { e.preventDefault(); submit(); } }} />
        <div className="row" style={{ margin: '12px 0 22px' }}>
          <Button type="primary" disabled={!text.trim()} loading={run.isPending} onClick={submit}>{isAddress || !text.trim() ? 'Fetch and read' : 'Read this text'}</Button>
          <span className="soft small">{isAddress ? 'imports are followed from there' : text.trim() ? 'relative imports need their files; drop them together instead' : ''}</span>
        </div>
        <div className={`drop ${over ? 'over' : ''}`}>
          Drop the WSDL here, together with its schema files or as a ZIP, or <button className="link" onClick={() => chooser.current?.click()}>choose files</button>
          <input ref={chooser} type="file" multiple hidden aria-label="WSDL files" accept=".wsdl,.xsd,.xml,.zip,text/xml,application/zip" onChange={(e) => void files(e.target.files)} />
        </div>
        {run.isError && <div style={{ marginTop: 16 }}><Problem title="Nothing was stored." error={run.error} /></div>}
      </div>
    </div>
  );
}
