import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import type { RunView, TrailView } from '../api/types';
import { millis, plural } from '../common/format';
import { indent } from '../common/place';
import { ErrorText, Status } from '../common/ui';
import { MessageText } from '../common/MessageText';
import { timesOf } from '../common/times';
import { moodOf, sums, treeOf, type TrailEvent, type TrailItem, type TrailPart } from './trail';
import { partsOf } from './tray';
import css from './TrailPane.module.css';

const time = (ms: number) =>
  new Date(ms).toLocaleTimeString('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    fractionalSecondDigits: 3,
  } as Intl.DateTimeFormatOptions);

interface Props {
  run: RunView;
  record: number;
  /** Shows the trail of another record, or none. */
  onTrail: (n?: number) => void;
}

/** What happened to one record, step by step, with the messages. */
export function TrailPane({ run, record, onTrail }: Props) {
  const trail = useQuery({
    queryKey: ['trail', run.id, record],
    retry: false,
    queryFn: () => api.get<TrailView[]>(`/runs/${run.id}/trails/${record}`),
  });
  const number = (path: string) =>
    run.steps.find((s) => s.step === path.slice(path.lastIndexOf('/') + 1))?.number ?? '';
  return (
    <div className={`scroll ${css.body}`}>
      <div className="row">
        <h2>
          Trail of {trail.data?.[0]?.group ? 'group' : 'record'} {record}
        </h2>
        <Button size="small" type="text" className="push" onClick={() => onTrail()}>
          Close
        </Button>
      </div>
      {trail.isError && <ErrorText error={trail.error} />}
      {trail.data?.map((t, i) => (
        <div key={t.pass} className={css.gap}>
          {t === trail.data[0] && t.settled.map((s) => <SettledLine key={s.at} settled={s} />)}
          {trail.data.length > 1 && (
            <div className={`soft small ${css.gap2}`}>{timeWords(trail.data.length - 1 - i)}</div>
          )}
          <Line at={time(t.startMillis)} what={t.group ? 'gathered' : 'read'}>
            {t.group ? (
              <Members group={t.group} onTrail={onTrail} />
            ) : (
              <span className={`cut ${css.text}`}>
                {t.record.children?.map((c) => `${c.name} ${c.children ? '…' : c.text || '(blank)'}`).join(' · ')}
              </span>
            )}
          </Line>
          <Items items={treeOf(t.events)} failed={t.failedPath ?? ''} number={number} depth={0} />
          {t.written.map((w, i) => (
            <Line key={i} at="" what="wrote">
              {w.title}{' '}
              <span className={`soft ${css.text}`}>
                {Object.entries(w.row)
                  .map(([name, value]) => `${name} ${value || '(blank)'}`)
                  .join(' · ')}
              </span>
            </Line>
          ))}
          <Line at="" what={<Status mood={moodOf(t.fate)}>{t.fate}</Status>}>
            {t.fate === 'gathered' &&
              (t.inGroup ? (
                <>
                  into{' '}
                  <button className="link" onClick={() => onTrail(t.inGroup ?? record)}>
                    group {t.inGroup}
                  </button>
                </>
              ) : (
                'its group is not made yet'
              ))}
            {t.failedPath && (
              <>
                {t.reason}{' '}
                <span className="soft">
                  at step {number(t.failedPath ?? '')}
                  {partsOf(t.failedPath ?? '') && `, ${partsOf(t.failedPath ?? '')}`}
                </span>
              </>
            )}
          </Line>
        </div>
      ))}
    </div>
  );
}

const SHOWN_MEMBERS = 40;

/** What a group is made of, each a way to its own trail. */
function Members({ group, onTrail }: { group: NonNullable<TrailView['group']>; onTrail: (n: number) => void }) {
  const shown = group.numbers.slice(0, SHOWN_MEMBERS);
  return (
    <>
      {group.key && <b className="strong">{group.key} </b>}
      <span className="soft">{plural(group.members, 'entry', 'entries')}: records</span>{' '}
      {shown.map((n) => (
        <button key={n} className={`link ${css.member}`} onClick={() => onTrail(n)}>
          {n}
        </button>
      ))}
      {group.members > shown.length && <span className="soft">and {group.members - shown.length} more</span>}
    </>
  );
}

/** @param again how often it had been sent again then */
const timeWords = (again: number) =>
  again === 0 ? 'first time' : `sent again, ${again === 1 ? 'once' : `${again} times`}`;

const SettledLine = ({ settled: s }: { settled: TrailView['settled'][number] }) => (
  <Line
    at={time(Date.parse(s.at))}
    what={<Status mood={s.verdict === 'discarded' ? 'idle' : 'ok'}>{s.verdict}</Status>}
  >
    {s.reason} <span className="soft">says {s.by}</span>
  </Line>
);

interface ItemsProps {
  items: TrailItem[];
  /** The path where the record failed; empty when it did not. */
  failed: string;
  number: (path: string) => number | string;
  depth: number;
}

const Items = ({ items, ...rest }: ItemsProps) => (
  <>
    {items.map((i, at) =>
      'part' in i ? (
        <Part key={i.part.prefix} part={i.part} {...rest} />
      ) : (
        <Happened key={at} event={i.event} depth={rest.depth} />
      ),
    )}
  </>
);

/** A part of a split: folded when it went well. */
function Part({ part, failed, number, depth }: Omit<ItemsProps, 'items'> & { part: TrailPart }) {
  const isFailed = failed.startsWith(part.prefix);
  const [open, setOpen] = useState(isFailed);
  const { calls, micros } = sums(part);
  return (
    <>
      <Line at="" what={<span className="soft">step {number(part.each)}</span>} depth={depth}>
        <button className="link bare" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? '▾' : '▸'} part {part.number}
        </button>{' '}
        {isFailed ? (
          <Status mood="bad">failed</Status>
        ) : (
          <span className="soft">
            {plural(calls, 'call')}
            {calls ? `, ${millis(micros / 1000)}` : ''}
          </span>
        )}
      </Line>
      {open && <Items items={part.items} failed={failed} number={number} depth={depth + 1} />}
    </>
  );
}

const WORDS: Record<string, string> = { call: 'called', pick: 'picked' };

/** One thing that happened, with its messages on demand. */
function Happened({ event: e, depth }: { event: TrailEvent; depth: number }) {
  const [open, setOpen] = useState<'request' | 'answer'>();
  const toggle = (what: 'request' | 'answer') => (
    <>
      {' '}
      ·{' '}
      <button className="link" onClick={() => setOpen(open === what ? undefined : what)}>
        {what}
      </button>
    </>
  );
  return (
    <div>
      <Line
        at={time(e.atMillis)}
        what={WORDS[e.kind] ?? e.kind}
        took={e.request ? millis(e.micros / 1000) : undefined}
        depth={depth}
      >
        {e.title}
        {e.status != null && <span className="soft"> · {e.status ? `HTTP ${e.status}` : e.outcome}</span>}
        {e.way && e.way.attempts > 1 && <span className="soft"> · {e.way.attempts} attempts</span>}
        {e.text && <span className="soft"> · {e.text}</span>}
        {e.request && toggle('request')}
        {e.answer && toggle('answer')}
      </Line>
      {open && (
        <div className={`panel ${css.box}`}>
          {e.way && (
            <div className="soft small num">
              {timesOf(e.micros, 0, e.way)
                .map((p) => `${p.what} ${millis(p.micros / 1000)}`)
                .join(' · ')}
            </div>
          )}
          <HttpHeaders of={open === 'request' ? e.requestHeaders : e.answerHeaders} />
          <MessageText text={(open === 'request' ? e.request : e.answer) ?? ''} />
        </div>
      )}
    </div>
  );
}

/** The HTTP headers of a message, as they came. */
const HttpHeaders = ({ of }: { of?: string[][] }) =>
  of?.length ? (
    <div className="mono small http-headers">
      {of.map((h, i) => (
        <div key={i}>
          <span className="soft">{h[0]}:</span> {h[1]}
        </div>
      ))}
    </div>
  ) : null;

const Line = ({
  at,
  what,
  took,
  depth = 0,
  children,
}: {
  at: string;
  what: React.ReactNode;
  took?: string;
  depth?: number;
  children: React.ReactNode;
}) => (
  <div className={`small num ${css.columns}`}>
    <span className="soft">{at}</span>
    <span>{what}</span>
    <span className="shrinks" style={indent(depth)}>
      {children}
    </span>
    <span className="soft right">{took}</span>
  </div>
);
