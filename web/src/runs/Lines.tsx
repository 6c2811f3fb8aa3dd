import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { Input } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api, RunView } from '../api/types';
import { Empty, ErrorText, Status } from '../common/ui';
import { saveText } from './saveText';
import css from './Lines.module.css';

type Line = Api<'Line'>;
const PAGE = 500;

/** What steps have logged, in the order of the records. */
export function Lines({ run, step, onTrail }: { run: RunView; step?: string; onTrail: (n: number) => void }) {
  const [text, setText] = useState('');
  const lines = useInfiniteQuery({
    queryKey: ['lines', run.id, run.lines, text],
    placeholderData: keepPreviousData,
    initialPageParam: 0,
    queryFn: ({ pageParam }) =>
      api.get<Line[]>(`/runs/${run.id}/lines?after=${pageParam}${text ? `&text=${seg(text)}` : ''}`),
    getNextPageParam: (page) => (page.length === PAGE ? page.at(-1)?.id : undefined),
  });
  const shown = (lines.data?.pages.flat() ?? []).filter((l) => !step || l.step === step);
  const number = (id: string) => run.steps.find((s) => s.step === id)?.number ?? '';
  return (
    <div className={css.frame}>
      <div className={`row ${css.bar}`}>
        <Input
          size="small"
          allowClear
          aria-label="find a line"
          placeholder="lines with this text"
          className={css.find}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <button
          className="link soft small push"
          onClick={() => saveText(`run-${run.id}-log.csv`, asCsv(shown, number))}
          disabled={shown.length === 0}
        >
          save as CSV
        </button>
      </div>
      {lines.isError && <ErrorText error={lines.error} />}
      <div className="scroll">
        <table className="grid">
          <thead>
            <tr>
              <th>time</th>
              <th className="n">record</th>
              <th className="n">step</th>
              <th>line</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((l) => (
              <tr key={l.id}>
                <td className="num nowrap soft">{time(l.at)}</td>
                <td className="n">
                  <button className="link num" onClick={() => onTrail(l.number)}>
                    {l.number}
                  </button>
                </td>
                <td className="n">{number(l.step)}</td>
                <td className="breaks">
                  {l.level === 'warning' && <Status mood="warn">warning </Status>} {l.text}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {lines.hasNextPage && (
          <button className={`link soft ${css.more}`} onClick={() => void lines.fetchNextPage()}>
            more lines
          </button>
        )}
        {lines.isSuccess && shown.length === 0 && (
          <Empty title="No line fits">Nothing was logged with that text.</Empty>
        )}
      </div>
    </div>
  );
}

const time = (at: string) => new Date(at).toLocaleTimeString('en-GB');

const quoted = (s: string | number) => `"${String(s).replaceAll('"', '""')}"`;

const asCsv = (lines: Line[], number: (id: string) => number | string) =>
  ['time,record,step,level,line']
    .concat(lines.map((l) => [l.at, l.number, number(l.step), l.level, l.text].map(quoted).join(',')))
    .join('\r\n');
