import { useInfiniteQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { when } from '../common/format';
import { ErrorText, Status } from '../common/ui';

type Entry = Api<'AuditEntry'>;
const PAGE = 200;
/** Deeds that are not just making, changing or removing what the path names; the first that fits. */
const DEEDS: [RegExp, string][] = [
  [/^POST session$/, 'logged in'],
  [/^DELETE session$/, 'logged out'],
  [/^DELETE session\/all/, 'ended a session'],
  [/^PUT session\/password$/, 'changed their password'],
  [/^POST runs$/, 'began a run'],
  [/^POST .*\/resume$/, 'went on'],
  [/^POST .*\/stop$/, 'stopped'],
  [/^POST .*\/again$/, 'sent again'],
  [/^PUT .*\/aside\//, 'mended'],
  [/^POST .*\/probe$/, 'probed'],
  [/^POST .*\/send$|^POST design\/try$/, 'called'],
  [/^POST registry/, 'asked'],
  [/^POST data\/files$/, 'uploaded'],
  [/^POST contracts$|^POST .*\/files$/, 'imported'],
  [/^POST .*\/take$/, 'moved flows'],
  [/^POST .*\/preview$/, 'looked into'],
  [/^POST/, 'made'],
  [/^PUT/, 'kept'],
  [/^DELETE/, 'removed'],
];
const deed = (e: Entry) => DEEDS.find(([p]) => p.test(`${e.method} ${what(e.path)}`))?.[1] ?? e.method;

/** The path without what all have in common, readable. */
const what = (path: string) => {
  const short = path.replace(/^\/?api\//, '');
  try {
    return decodeURIComponent(short);
  } catch {
    return short;
  }
};
const Outcome = ({ status: s }: { status: number }) =>
  s < 400 ? (
    <Status mood="ok">done</Status>
  ) : (
    <Status mood={s === 401 || s === 403 || s === 429 ? 'bad' : 'warn'}>refused, {s}</Status>
  );

export function AuditLog() {
  const [text, setText] = useState('');
  const log = useInfiniteQuery({
    queryKey: ['audit', text],
    initialPageParam: 0,
    queryFn: ({ pageParam, signal }) =>
      api.get<Entry[]>(`/settings/audit?text=${seg(text)}${pageParam ? `&before=${pageParam}` : ''}`, signal),
    getNextPageParam: (last) => (last.length === PAGE ? last[last.length - 1].id : undefined),
  });
  const entries = log.data?.pages.flat() ?? [];
  return (
    <>
      <div className="row settings-filter">
        <Input
          allowClear
          aria-label="find in the audit log"
          placeholder="an account, or part of what was changed"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <span className="soft small">Refused tries are in it; what was sent is not, since it may hold secrets.</span>
      </div>
      {log.isError && <ErrorText error={log.error} />}
      <table className="grid">
        <thead>
          <tr>
            <th>when</th>
            <th>who</th>
            <th>from</th>
            <th>deed</th>
            <th>what</th>
            <th>details</th>
            <th>outcome</th>
          </tr>
        </thead>
        <tbody>
          {entries.map((e) => (
            <tr key={e.id}>
              <td className="num nowrap">{when(e.at)}</td>
              <td>{e.account}</td>
              <td className="mono">{e.address}</td>
              <td className="nowrap">{deed(e)}</td>
              <td className="mono">{what(e.path)}</td>
              <td>{e.detail}</td>
              <td>
                <Outcome status={e.status} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {log.hasNextPage && (
        <Button type="text" onClick={() => void log.fetchNextPage()}>
          Older ones
        </Button>
      )}
      {log.isSuccess && entries.length === 0 && <p className="soft">Nothing there.</p>}
    </>
  );
}
