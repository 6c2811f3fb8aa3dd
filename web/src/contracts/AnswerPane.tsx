import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Input, Segmented } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api, BenchAnswer } from '../api/types';
import { count, millis, plural } from '../common/format';
import { TreeView } from '../common/TreeView';
import { ErrorText, Status } from '../common/ui';
import { XmlText } from '../common/XmlText';
import { MakeFlowLink } from './BenchBar';
import { AnswerTableView } from './AnswerTableView';
import { Scroll } from '../common/Panel';
import css from './AnswerPane.module.css';
import { wide } from '../common/place';

type View = 'tree' | 'table' | 'xml' | 'sent' | 'request' | 'headers';

export function AnswerPane({
  contract,
  port,
  operation,
  answer: a,
  from,
  error,
  busy,
}: {
  contract: string;
  port: string;
  operation: string;
  answer?: BenchAnswer;
  from?: string;
  error: unknown;
  busy: boolean;
}) {
  const [view, setView] = useState<View>('tree');
  const [xpath, setXpath] = useState('');
  if (!a) {
    return (
      <div className={`scroll ${css.body}`}>
        {error ? (
          <div className={css.inset}>
            <ErrorText title="Nothing was sent." error={error} />
          </div>
        ) : (
          <div className="empty">
            <h1>{busy ? 'Waiting for the answer' : 'No answer yet'}</h1>
            {busy ? (
              ''
            ) : (
              <>
                Fill the required rows and send. You will see the answer here as a tree, both raw messages and the HTTP
                headers.
              </>
            )}
          </div>
        )}
      </div>
    );
  }
  const good = a.outcome === 'answered' && !a.fault && a.status < 300;
  return (
    <div className={css.frame}>
      <div className={`row wrap ${css.bar}`}>
        <h2>Answer</h2>
        <Status mood={good ? 'ok' : 'bad'}>
          {a.status || a.outcome}
          {a.fault ? ' fault' : ''}
        </Status>
        <span className="soft num nowrap small">
          {millis((a.waitMicros + a.readMicros) / 1000)} · {count(a.answerBytes)} bytes{from ? ` · ${from}` : ''}
        </span>
        {good && a.id !== undefined && (
          <MakeFlowLink contract={contract} port={port} operation={operation} exchange={a.id} />
        )}
        <span className="push" />
        <Segmented<View>
          size="small"
          value={view}
          onChange={setView}
          options={[
            { value: 'tree', label: 'Tree' },
            { value: 'table', label: 'Table' },
            { value: 'xml', label: 'XML' },
            { value: 'sent', label: 'As sent' },
            { value: 'request', label: 'Request' },
            { value: 'headers', label: 'Headers' },
          ]}
        />
      </div>
      <Times wait={a.waitMicros} read={a.readMicros} />
      {a.tree ? (
        <XPathLine contract={contract} answer={a.answer} prefixes={a.prefixes} xpath={xpath} setXpath={setXpath} />
      ) : (
        <div />
      )}
      <Scroll label="answer" className={css.body2}>
        {a.problem && <div className={`notice ${css.notice}`}>{a.problem}</div>}
        {a.fault && <FaultBox fault={a.fault} />}
        {a.answerNotes?.length > 0 && <AnswerNotes notes={a.answerNotes} />}
        {view === 'headers' ? (
          <>
            <Headers title="sent" of={a.requestHeaders} />
            <Headers title="received" of={a.answerHeaders} />
          </>
        ) : view === 'request' ? (
          <XmlText xml={a.request} />
        ) : view === 'sent' ? (
          <XmlText asSent xml={a.answer} />
        ) : view === 'xml' || !a.tree ? (
          <XmlText xml={a.answer} />
        ) : a.fault ? null : view === 'table' && a.tree?.length ? (
          <AnswerTableView root={a.tree[0]} onPick={(p) => setXpath(p)} />
        ) : (
          a.tree?.map((t, i) => <TreeView key={i} root={t} onPick={(p) => setXpath(p)} />)
        )}
        {view === 'tree' && (a.headers?.length ?? 0) > 0 && (
          <>
            <h2 className={css.heading}>header blocks</h2>
            {a.headers?.map((t, i) => (
              <TreeView key={i} root={t} />
            ))}
          </>
        )}
        {(view === 'tree' || view === 'table') && a.tree && !a.fault && a.tree.length === 0 && (
          <span className="soft">
            The body is empty, as for a one-way call. {operation} on {port} says no more.
          </span>
        )}
      </Scroll>
    </div>
  );
}

function Times({ wait, read }: { wait: number; read: number }) {
  const all = Math.max(1, wait + read);
  return (
    <div className={css.inset2}>
      <div className={css.box}>
        <i className={css.waited} style={wide(`${(100 * wait) / all}%`)} />
        <i className={css.read} style={wide(`${(100 * read) / all}%`)} />
      </div>
      <div className={`row soft num ${css.bar2}`}>
        <span>connect and wait {millis(wait / 1000)}</span>
        <span>read {millis(read / 1000)}</span>
      </div>
    </div>
  );
}

function XPathLine({
  contract,
  answer,
  prefixes,
  xpath,
  setXpath,
}: {
  contract: string;
  answer: string;
  prefixes: Record<string, string>;
  xpath: string;
  setXpath: (x: string) => void;
}) {
  const result = useQuery({
    queryKey: ['xpath', answer, xpath],
    enabled: xpath.trim() !== '',
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      api.post<Api<'XPathResult'>>(`/contracts/${seg(contract)}/bench/xpath`, { answer, xpath }, signal),
  });
  const r = xpath.trim() ? result.data : undefined;
  return (
    <div className={css.inset3}>
      <Input
        size="small"
        className="mono"
        aria-label="XPath over the answer"
        placeholder="XPath over the answer, or click a name below"
        value={xpath}
        onChange={(e) => setXpath(e.target.value)}
        status={r?.problem ? 'error' : undefined}
        suffix={
          r && !r.problem ? (
            <span className={`soft ${css.note}`}>
              {r.count} found{r.count ? `: ${(r.values ?? []).join(', ')}` : ''}
            </span>
          ) : (
            <span />
          )
        }
      />
      {Object.keys(prefixes ?? {}).length > 0 && (
        <div
          className="faint small cut"
          title={Object.entries(prefixes)
            .map(([p, n]) => `${p} = ${n}`)
            .join('\n')}
        >
          names without a prefix match in any namespace; ready:{' '}
          {Object.keys(prefixes)
            .map((p) => `${p}:`)
            .join(' ')}
        </div>
      )}
      {r?.problem && <div className="small wrong">{r.problem}</div>}
    </div>
  );
}

/** An answer that does not match its schema is shown like any other, with what does not match. */
function AnswerNotes({ notes }: { notes: BenchAnswer['answerNotes'] }) {
  const [all, setAll] = useState(false);
  return (
    <div className={`notice warn small ${css.notice}`}>
      <b>{plural(notes.length, 'difference')} from its schema.</b>{' '}
      {(all ? notes : notes.slice(0, 1)).map((n, i) => (
        <div key={i}>
          {n.place?.line ? <span className="faint">line {n.place.line} </span> : null}
          {n.text}
        </div>
      ))}
      {notes.length > 1 && (
        <button className="link soft" onClick={() => setAll(!all)}>
          {all ? 'show one' : 'show all'}
        </button>
      )}
    </div>
  );
}

function FaultBox({ fault: f }: { fault: Api<'FaultView'> }) {
  return (
    <div className={`notice ${css.notice}`}>
      <b>Fault {f.name}</b>
      <div>{f.reason}</div>
      <div className="soft small">
        code {f.code}
        {f.actor ? `, from ${f.actor}` : ''}
      </div>
      {f.detail && <TreeView root={f.detail} />}
    </div>
  );
}

function Headers({ title, of }: { title: string; of: string[][] }) {
  return (
    <>
      <h2 className={css.heading2}>{title}</h2>
      {of.map((h, i) => (
        <div key={i} className="mono">
          <span className="soft">{h[0]}:</span> {h[1]}
        </div>
      ))}
      {of.length === 0 && <span className="faint">none</span>}
    </>
  );
}
