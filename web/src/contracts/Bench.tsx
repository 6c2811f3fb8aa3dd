import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Segmented, Select } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { api, seg } from '../api/client';
import type {
  Api,
  BenchAnswer,
  BenchMessage,
  ConnectionView,
  OperationView,
  PastExchange,
  PortView,
  Rule,
  ShapeRow,
} from '../api/types';
import { useEnvironment } from '../app/environment';
import { plural, pretty, when } from '../common/format';
import { Status } from '../common/ui';
import { AnswerPane } from './AnswerPane';
import { BenchRows } from './BenchRows';
import { EMPTY_BENCH, rulesOf, stateOf, type BenchState } from './benchRules';
import { History } from './History';
import { useShape } from './MessageShapes';

const kept = (key: string): BenchState => {
  try {
    return { ...EMPTY_BENCH, ...JSON.parse(localStorage.getItem(key) ?? '{}') };
  } catch {
    return EMPTY_BENCH;
  }
};
type BenchRules = Api<'BenchRules'>;
const NO_ROWS: ShapeRow[] = [];

/** One operation tried by hand. What is typed is remembered per operation, in this browser. */
export function Bench({ contract, port, operation }: { contract: string; port: PortView; operation: OperationView }) {
  const key = `wk.bench.1.${contract}/${port.name}/${operation.name}`;
  const environment = useEnvironment();
  const queries = useQueryClient();
  const [state, setState] = useState<BenchState>(() => kept(key));
  const [xml, setXml] = useState<string | null>(null);
  const [read, setRead] = useState<BenchRules>();
  const [past, setPast] = useState<{ at: PastExchange; answer: BenchAnswer }>();
  const [over, setOver] = useState<string>(() => localStorage.getItem(`${key}.over`) ?? '');
  useEffect(() => {
    localStorage.setItem(key, JSON.stringify(state));
  }, [key, state]);
  useEffect(() => {
    localStorage.setItem(`${key}.over`, over);
  }, [key, over]);
  const connections = useQuery({ queryKey: ['connections'], queryFn: () => api.get<ConnectionView[]>('/connections') });
  const wish = {
    contract,
    port: port.name,
    operation: operation.name,
    part: 'request',
    kinds: state.kinds,
    opened: state.opened,
    occurrences: state.counts,
  };
  const shape = useShape(wish);
  const rules = useMemo(() => rulesOf(state), [state]);
  const request = { port: port.name, operation: operation.name, rules };
  const path = `/contracts/${seg(contract)}/bench`;
  const message = useQuery({
    queryKey: ['bench', contract, request],
    queryFn: ({ signal }) => api.post<BenchMessage>(`${path}/message`, request, signal),
    placeholderData: keepPreviousData,
  });
  const send = useMutation({
    mutationFn: () =>
      api.post<BenchAnswer>(`${path}/send`, {
        ...request,
        xml: xml ?? undefined,
        environment,
        ...(over.startsWith('http') ? { url: over } : { connection: over || undefined }),
      }),
    onSuccess: () => {
      setPast(undefined);
      void queries.invalidateQueries({ queryKey: ['history', contract, port.name, operation.name] });
    },
  });
  const fromXml = (text: string) =>
    api.post<BenchRules>(`${path}/rules`, { port: port.name, operation: operation.name, xml: text });
  const example = useMutation({
    mutationFn: (full: boolean) =>
      api.post<{ rules: Rule[] }>(`${path}/example`, { port: port.name, operation: operation.name, full }),
    onSuccess: (m) => {
      setState(stateOf(m.rules));
      setXml(null);
    },
  });
  // Rows follow the XML while it is typed; what no row takes is said, and stays as long as the XML is what is sent.
  useEffect(() => {
    if (xml === null) return undefined;
    const t = setTimeout(() => {
      void fromXml(xml)
        .then((r) => {
          setRead(r);
          if (!r.problem) setState(stateOf(r.rules as Rule[]));
        })
        .catch(() => undefined);
    }, 350);
    return () => clearTimeout(t);
  }, [xml]); // eslint-disable-line
  const again = async (at: PastExchange) => {
    const answer = await api.get<BenchAnswer>(`${path}/history/${at.id}`);
    const r = await fromXml(answer.request);
    if (!r.problem) setState(stateOf(r.rules as Rule[]));
    setXml(r.problem || r.lost.length ? pretty(answer.request) : null);
    setPast({ at, answer });
  };
  const problems = new Map((message.data?.problems ?? []).map((p) => [p.path, p]));
  const wrong = [...problems.values()].filter((p) => p.code === 'value').length;
  const unfilled = [...problems.values()].filter((p) => p.code !== 'value').length;
  const keys = (e: React.KeyboardEvent) => {
    if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
      e.preventDefault();
      send.mutate();
    }
  };
  const soap = (connections.data ?? []).filter((c) => c.kind === 'soap');
  // What no row takes would be gone with the XML: it is said, and the XML can be had back.
  const [left, setLeft] = useState<{ xml: string; lost: BenchRules['lost'] }>();
  const show = async (v: 'rows' | 'xml') => {
    if (v === 'xml') {
      setRead(undefined);
      setXml(left?.xml ?? pretty(message.data?.envelope ?? ''));
      setLeft(undefined);
    } else if (xml !== null) {
      const r = await fromXml(xml);
      setRead(r);
      if (r.problem) return;
      setState(stateOf(r.rules as Rule[]));
      setLeft(r.lost.length ? { xml, lost: r.lost } : undefined);
      setXml(null);
    }
  };
  const edit = (s: BenchState) => {
    setLeft(undefined);
    setState(s);
  };
  return (
    <div
      style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1.12fr) minmax(0, 1fr)', minHeight: 0 }}
      onKeyDown={keys}
    >
      <div
        style={{
          display: 'grid',
          gridTemplateRows: 'auto minmax(0, 1fr) auto',
          minHeight: 0,
          borderRight: '1px solid var(--line)',
        }}
      >
        <div className="row small" style={{ padding: '7px 18px' }}>
          <Segmented
            size="small"
            value={xml === null ? 'rows' : 'xml'}
            onChange={(v) => void show(v as 'rows' | 'xml')}
            options={[
              { value: 'rows', label: 'Rows' },
              { value: 'xml', label: 'XML' },
            ]}
          />
          <Select
            size="small"
            aria-label="send over"
            style={{ width: 124 }}
            value={over}
            onChange={setOver}
            title="Where the call goes"
            options={[
              { value: '', label: port.address ? 'contract’s address' : 'choose' },
              ...soap.map((c) => ({ value: c.name, label: c.name })),
            ]}
          />
          <span className="push row" style={{ gap: 10 }}>
            <button
              className="link soft"
              title="Fills every required row with a value that fits; hold Shift for the optional ones too"
              onClick={(e) => example.mutate(e.shiftKey)}
            >
              example
            </button>
            <button
              className="link soft"
              onClick={() => {
                setState(EMPTY_BENCH);
                setXml(null);
              }}
            >
              clear
            </button>
            <History contract={contract} port={port.name} operation={operation.name} open={(h) => void again(h)} />
          </span>
          <Button type="primary" loading={send.isPending} onClick={() => send.mutate()}>
            Send <span style={{ opacity: 0.75, font: '11px var(--mono)' }}>Ctrl ⏎</span>
          </Button>
        </div>
        {xml !== null ? (
          <Input.TextArea
            aria-label="request XML"
            className="mono"
            variant="borderless"
            style={{ height: '100%', resize: 'none', padding: '4px 18px' }}
            value={xml}
            onChange={(e) => setXml(e.target.value)}
            spellCheck={false}
          />
        ) : (
          <BenchRows
            rows={shape.data ?? NO_ROWS}
            error={shape.error}
            state={state}
            setState={edit}
            wish={wish}
            problems={problems}
            tried={send.isSuccess || send.isError}
          />
        )}
        <div style={{ padding: '8px 18px', borderTop: '1px solid var(--line)', minHeight: 36 }} className="soft">
          {xml !== null && read?.problem ? (
            <Status mood="bad">
              {read.line ? `line ${read.line}: ` : ''}
              {read.problem}
            </Status>
          ) : xml !== null && read?.lost.length ? (
            <>
              <Status mood="warn">{plural(read.lost.length, 'part')} no row takes</Status>{' '}
              <span title={read.lost.map((l) => `${l.path} ${l.text}`).join('\n')}>
                {read.lost[0].path} {read.lost[0].text}; sent all the same, lost when you go back to rows
              </span>
            </>
          ) : xml === null && left ? (
            <>
              <Status mood="warn">{plural(left.lost.length, 'part')} of the XML left out</Status>{' '}
              <span title={left.lost.map((l) => `${l.path} ${l.text}`).join('\n')}>
                {left.lost[0].path} {left.lost[0].text}
              </span>{' '}
              <button className="link" onClick={() => void show('xml')}>
                back to the XML
              </button>
            </>
          ) : wrong > 0 ? (
            <>
              <Status mood="bad">
                {wrong} {wrong === 1 ? 'value does' : 'values do'} not fit
              </Status>{' '}
              &nbsp;sending is still possible; the service may refuse it
            </>
          ) : unfilled > 0 ? (
            <Status mood="warn">
              {unfilled} required {unfilled === 1 ? 'row' : 'rows'} unfilled
            </Status>
          ) : message.data?.validation?.length ? (
            <Status mood="warn">{message.data.validation[0].text}</Status>
          ) : (
            <Status mood="ok">the message fits its schema</Status>
          )}
        </div>
      </div>
      <AnswerPane
        contract={contract}
        port={port.name}
        operation={operation.name}
        answer={past?.answer ?? send.data}
        from={past ? `sent ${when(past.at.sentAt)} by ${past.at.account}` : undefined}
        error={past ? null : send.error}
        busy={send.isPending}
      />
    </div>
  );
}
