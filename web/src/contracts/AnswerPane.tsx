import { Segmented } from 'antd';
import { useState } from 'react';
import type { BenchAnswer } from '../api/types';
import { count, millis } from '../common/format';
import { TreeView } from '../common/TreeView';
import { ErrorText, Status } from '../common/ui';
import { MessageText } from '../common/MessageText';
import { MakeFlowLink } from './BenchBar';
import { AnswerTableView } from './AnswerTableView';
import { Scroll } from '../common/Panel';
import { proposed } from './errorRule';
import { ErrorRulePanel, useErrorRule } from './ErrorRulePanel';
import { curlOf, save } from './curl';
import css from './AnswerPane.module.css';
import { XPathLine } from './XPathLine';
import { Times, AnswerNotes, FaultBox, Headers } from './AnswerParts';

type View = 'tree' | 'table' | 'xml' | 'sent' | 'request' | 'headers';

export function AnswerPane({
  contract,
  port,
  operation,
  isPlain,
  answer: a,
  from,
  error,
  busy,
}: {
  contract: string;
  port: string;
  operation: string;
  isPlain: boolean;
  answer?: BenchAnswer;
  from?: string;
  error: unknown;
  busy: boolean;
}) {
  const [view, setView] = useState<View>('tree');
  const [xpath, setXpath] = useState('');
  const [isRuling, setRuling] = useState(false);
  const rule = useErrorRule(contract, operation);
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
  const good = a.outcome === 'answered' && !a.fault && !a.problem && a.status < 300;
  const proposal = a.tree?.[0] ? proposed(a.tree[0]) : undefined;
  return (
    <div className={css.frame}>
      <div className={`row wrap ${css.bar}`}>
        <h2>Answer</h2>
        <Status mood={good ? 'ok' : 'bad'}>
          {a.status || a.outcome}
          {a.fault && !isPlain ? ' fault' : ''}
        </Status>
        <span className="soft num nowrap small">
          {millis((a.waitMicros + a.readMicros) / 1000)} · {count(a.answerBytes)} bytes{from ? ` · ${from}` : ''}
        </span>
        {good && a.id !== undefined && (
          <MakeFlowLink contract={contract} port={port} operation={operation} exchange={a.id} />
        )}
        {a.tree?.[0] && !a.fault && (
          <button className="link soft small" aria-expanded={isRuling} onClick={() => setRuling(!isRuling)}>
            {rule.data?.failWhen ? 'error rule' : proposal ? 'does it speak of a failure?' : 'error rule'}
          </button>
        )}
        <span className="push" />
        <Segmented<View>
          size="small"
          value={view}
          onChange={setView}
          options={[
            { value: 'tree', label: 'Tree' },
            { value: 'table', label: 'Table' },
            { value: 'xml', label: isPlain ? 'Text' : 'XML' },
            { value: 'sent', label: 'As sent' },
            { value: 'request', label: 'Request' },
            { value: 'headers', label: 'Headers' },
          ]}
        />
      </div>
      <Times wait={a.waitMicros} read={a.readMicros} way={a.way} />
      {isRuling && rule.data ? (
        <ErrorRulePanel
          key={`${contract}/${operation}`}
          contract={contract}
          operation={operation}
          rule={rule.data}
          proposal={proposal}
          close={() => setRuling(false)}
        />
      ) : (
        <div />
      )}
      {a.tree ? (
        <XPathLine
          contract={contract}
          answer={a}
          of={isPlain ? { port, operation } : undefined}
          xpath={xpath}
          setXpath={setXpath}
        />
      ) : (
        <div />
      )}
      <Scroll label="answer" className={css.body2}>
        {a.problem && (
          <div className={`notice ${css.notice}`}>
            <b>{a.code}</b> {a.problem}
            {a.todo && <div className="soft small">{a.todo}</div>}
          </div>
        )}
        {a.fault && <FaultBox fault={a.fault} isPlain={isPlain} />}
        {a.answerNotes?.length > 0 && <AnswerNotes notes={a.answerNotes} />}
        <Shown answer={a} view={view} onPick={setXpath} />
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

/** The answer, or what was sent, in the way that was chosen. */
function Shown({ answer: a, view, onPick }: { answer: BenchAnswer; view: View; onPick: (xpath: string) => void }) {
  return view === 'headers' ? (
    <>
      <div className="row small">
        <button className="link soft" onClick={() => void navigator.clipboard?.writeText(curlOf(a))}>
          copy the call as curl
        </button>
        <button className="link soft" onClick={() => save(a)}>
          save the answer
        </button>
      </div>
      <Headers title="sent" of={a.requestHeaders} />
      <Headers title="received" of={a.answerHeaders} />
    </>
  ) : view === 'request' ? (
    <MessageText text={a.request} />
  ) : view === 'sent' ? (
    <MessageText asSent text={a.answer} />
  ) : view === 'xml' || !a.tree ? (
    <MessageText text={a.answer} />
  ) : a.fault ? null : view === 'table' && a.tree?.length ? (
    <AnswerTableView root={a.tree[0]} onPick={onPick} />
  ) : (
    a.tree?.map((t, i) => <TreeView key={i} root={t} onPick={onPick} />)
  );
}
