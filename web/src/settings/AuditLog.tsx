import { useInfiniteQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { when } from '../common/format';
import { Problem, Status } from '../common/ui';

type Entry = Api<'AuditEntry'>;
const PAGE = 200;
const DEEDS: Record<string, string> = { POST: 'did', PUT: 'set', DELETE: 'removed' };

/** The path without what all have in common, readable. */
const what = (path: string) => decodeURIComponent(path.replace(/^\/?api\//, ''));
const Outcome = ({ status: s }: { status: number }) =>
  s < 400 ? <Status mood="ok">done</Status> : <Status mood={s === 401 || s === 403 || s === 429 ? 'bad' : 'warn'}>refused, {s}</Status>;

export function AuditLog() {
  const [text, setText] = useState('');
  const log = useInfiniteQuery({
    queryKey: ['audit', text], initialPageParam: 0,
    queryFn: ({ pageParam, signal }) =>
      api.get<Entry[]>(`/settings/audit?text=${seg(text)}${pageParam ? `&before=${pageParam}` : ''}`, signal),
    getNextPageParam: (last) => (last.length === PAGE ? last[last.length - 1].id : undefined),
  });
  const entries = log.data?.pages.flat() ?? [];
  return (
    <>
      <div className="row settings-filter">
        <Input allowClear aria-label="find in the audit log" placeholder="an account, or part of what was changed" value={text}
          onChange={(e) => setText(e.target.value)} />
        <span className="soft small">Refused tries are in it; what was sent is not, since it may hold secrets.</span>
      </div>
      {log.isError && <Problem error={log.error} />}
      <table className="grid">
        <thead><tr><th>when</th><th>who</th><th>from</th><th>deed</th><th>what</th><th>outcome</th><th /></tr></thead>
        <tbody>
          {entries.map((e) => (
            <tr key={e.id}>
              <td className="num nowrap">{when(e.at)}</td><td>{e.account}</td><td className="mono">{e.address}</td>
              <td className="soft">{DEEDS[e.method] ?? e.method}</td><td className="mono">{what(e.path)}</td>
              <td><Outcome status={e.status} /></td><td className="soft">{e.detail}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {log.hasNextPage && <Button type="text" onClick={() => void log.fetchNextPage()}>Older ones</Button>}
      {log.isSuccess && entries.length === 0 && <p className="soft">Nothing there.</p>}
    </>
  );
}
