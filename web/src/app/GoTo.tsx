import { Input, Modal } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { seg } from '../api/client';
import css from './GoTo.module.css';
import { useConnections } from '../connections';
import { useContracts } from '../contracts';
import { useSources, useShapes, useTargets } from '../data';
import { useFlows } from '../flows';
import { useRuns } from '../runs';

interface Place {
  label: string;
  kind: string;
  to: string;
}

/** Jumps to anything by a few letters of its name. Opened by "/". */
export function GoTo() {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const go = useNavigate();
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest('input, textarea, [contenteditable], .cm-editor');
      if (e.key === '/' && !typing) {
        e.preventDefault();
        setText('');
        setAt(0);
        setOpen(true);
      }
    };
    addEventListener('keydown', key);
    return () => removeEventListener('keydown', key);
  }, []);
  const contracts = useContracts(open);
  const flows = useFlows(open);
  const sources = useSources(open);
  const targets = useTargets(open);
  const shapes = useShapes(open);
  const connections = useConnections(open);
  const runs = useRuns(null, { enabled: open });
  const places = useMemo<Place[]>(
    () => [
      ...['Contracts', 'Connections', 'Data', 'Flows', 'Runs', 'Published', 'Secrets', 'Certificates'].map((p) => ({
        label: p,
        kind: 'page',
        to: `/${p.toLowerCase()}`,
      })),
      { label: 'Files', kind: 'page', to: '/data/files' },
      { label: 'Import a contract', kind: 'page', to: '/contracts/import' },
      { label: 'Describe operations by hand', kind: 'page', to: '/contracts/by-hand' },
      ...(contracts.data ?? []).map((c) => ({ label: c.name, kind: 'contract', to: `/contracts/${seg(c.name)}` })),
      ...(flows.data ?? []).map((f) => ({ label: f.name, kind: 'flow', to: `/flows/${f.id}` })),
      ...(sources.data ?? []).map((s) => ({ label: s.name, kind: 'source', to: `/data/sources/${seg(s.name)}` })),
      ...(targets.data ?? []).map((s) => ({ label: s.name, kind: 'target', to: `/data/targets/${seg(s.name)}` })),
      ...(shapes.data ?? []).map((s) => ({ label: s.name, kind: 'shape', to: `/data/shapes/${seg(s.name)}` })),
      ...(connections.data ?? []).map((c) => ({
        label: c.name,
        kind: 'connection',
        to: `/connections/${seg(c.name)}`,
      })),
      ...(runs.data ?? [])
        .slice(0, 30)
        .map((r) => ({ label: `${r.flowName}, run ${r.id}`, kind: 'run', to: `/runs/${r.id}` })),
    ],
    [contracts.data, flows.data, sources.data, targets.data, shapes.data, connections.data, runs.data],
  );
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = places
    .filter((p) => wanted.every((w) => `${p.label} ${p.kind}`.toLowerCase().includes(w)))
    .slice(0, 12);
  const take = (p?: Place) => {
    if (p) {
      setOpen(false);
      void go(p.to);
    }
  };
  return (
    <>
      <button
        className="goto"
        onClick={() => {
          setText('');
          setAt(0);
          setOpen(true);
        }}
      >
        Go to anything <kbd>/</kbd>
      </button>
      <Modal
        open={open}
        onCancel={() => setOpen(false)}
        footer={null}
        closable={false}
        width={480}
        destroyOnHidden
        styles={{ body: { padding: 0 } }}
      >
        <Input
          autoFocus
          aria-label="Go to anything"
          placeholder="a few letters of a name"
          value={text}
          onChange={(e) => {
            setText(e.target.value);
            setAt(0);
          }}
          onKeyDown={(e) => {
            if (e.key === 'ArrowDown') {
              e.preventDefault();
              setAt(Math.min(found.length - 1, at + 1));
            }
            if (e.key === 'ArrowUp') {
              e.preventDefault();
              setAt(Math.max(0, at - 1));
            }
            if (e.key === 'Enter') take(found[at]);
          }}
        />
        <div className={css.gap}>
          {found.map((p, i) => (
            <button key={p.to} className={`item ${i === at ? 'on' : ''} ${css.action}`} onClick={() => take(p)}>
              <span className="cut">{p.label}</span>
              <span className="faint">{p.kind}</span>
            </button>
          ))}
          {found.length === 0 && <div className={`soft ${css.inset}`}>Nothing has that name.</div>}
        </div>
      </Modal>
    </>
  );
}
