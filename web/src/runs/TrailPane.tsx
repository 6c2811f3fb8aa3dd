import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import type { TrailView } from '../api/types';
import { millis } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import { XmlText } from '../common/XmlText';
import css from './TrailPane.module.css';

const time = (ms: number) =>
  new Date(ms).toLocaleTimeString('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    fractionalSecondDigits: 3,
  } as Intl.DateTimeFormatOptions);

/** What happened to one record, step by step, with the messages. */
export function TrailPane({ run, record, onClose }: { run: number; record: number; onClose: () => void }) {
  const trail = useQuery({
    queryKey: ['trail', run, record],
    retry: false,
    queryFn: () => api.get<TrailView[]>(`/runs/${run}/trails/${record}`),
  });
  const [open, setOpen] = useState<string>('');
  return (
    <div className={`scroll ${css.body}`}>
      <div className="row">
        <h2>Trail of record {record}</h2>
        <Button size="small" type="text" className="push" onClick={onClose}>
          Close
        </Button>
      </div>
      {trail.isError && <ErrorText error={trail.error} />}
      {trail.data?.map((t) => (
        <div key={t.pass} className={css.gap}>
          {trail.data.length > 1 && (
            <div className={`soft small ${css.gap2}`}>
              {t.pass === 0 ? 'first time' : `sent again, ${t.pass === 1 ? 'once' : `${t.pass} times`}`}
            </div>
          )}
          <Line at={time(t.startMillis)} what="read">
            <span className={`cut ${css.text}`}>
              {t.record.children?.map((c) => `${c.name} ${c.text || '(blank)'}`).join(' · ')}
            </span>
          </Line>
          {t.events.map((e, i) => (
            <div key={i}>
              <Line
                at={time(e.atMillis)}
                what={e.kind === 'call' ? 'called' : e.kind === 'pick' ? 'picked' : e.kind}
                took={e.request ? millis(e.micros / 1000) : undefined}
              >
                {e.title}
                {e.status != null && <span className="soft"> · {e.status ? `HTTP ${e.status}` : e.outcome}</span>}
                {e.text && <span className="soft"> · {e.text}</span>}
                {e.request && (
                  <>
                    {' '}
                    ·{' '}
                    <button
                      className="link"
                      onClick={() => setOpen(open === `q${t.pass}.${i}` ? '' : `q${t.pass}.${i}`)}
                    >
                      request
                    </button>
                  </>
                )}
                {e.answer && (
                  <>
                    {' '}
                    ·{' '}
                    <button
                      className="link"
                      onClick={() => setOpen(open === `a${t.pass}.${i}` ? '' : `a${t.pass}.${i}`)}
                    >
                      answer
                    </button>
                  </>
                )}
              </Line>
              {open === `q${t.pass}.${i}` && (
                <div className={`panel ${css.box}`}>
                  <HttpHeaders of={e.requestHeaders} />
                  <XmlText xml={e.request ?? ''} />
                </div>
              )}
              {open === `a${t.pass}.${i}` && (
                <div className={`panel ${css.box}`}>
                  <HttpHeaders of={e.answerHeaders} />
                  <XmlText xml={e.answer ?? ''} />
                </div>
              )}
            </div>
          ))}
          <Line
            at=""
            what={<Status mood={t.fate === 'done' ? 'ok' : t.fate === 'in doubt' ? 'warn' : 'bad'}>{t.fate}</Status>}
          >
            {t.fate === 'done' ? (
              `${t.results} result ${t.results === 1 ? 'record' : 'records'}`
            ) : (
              <>
                {t.reason} <span className="soft">at step {t.failedStep + 1}</span>
              </>
            )}
          </Line>
        </div>
      ))}
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
  children,
}: {
  at: string;
  what: React.ReactNode;
  took?: string;
  children: React.ReactNode;
}) => (
  <div className={`small num ${css.columns}`}>
    <span className="soft">{at}</span>
    <span>{what}</span>
    <span className="shrinks">{children}</span>
    <span className="soft right">{took}</span>
  </div>
);
