import { Link, useNavigate } from 'react-router';
import { seg } from '../api/client';
import type { EndpointView, TriggerView } from '../api/types';
import { count, when } from '../common/format';
import { Status } from '../common/ui';
import { until } from './draft';
import { brief, share, WAYS, whereOf, type Way } from './endpoint';
import { Traffic } from './Traffic';
import css from './PublishedList.module.css';

export type Kind = 'all' | Way | 'schedule';

interface Props {
  schedules: TriggerView[];
  endpoints: EndpointView[];
  narrow: string;
  open?: string;
  now: number;
}

const KINDS: Record<Way, string> = {
  http: 'HTTP',
  soap: 'SOAP',
  queue: 'QUEUE',
  folder: 'FOLDER',
  rows: 'ROWS',
  after: 'AFTER',
  page: 'PAGE',
};

const fits = (narrow: string, ...texts: (string | undefined)[]) =>
  texts.some((t) => t?.toLowerCase().includes(narrow.trim().toLowerCase()));

/** All that is published, by kind. */
export function PublishedList({ schedules, endpoints, narrow, open, now }: Props) {
  const fitting = endpoints.filter((e) =>
    fits(narrow, e.name, whereOf(e), e.flowName, ...e.callers.map((c) => c.caller)),
  );
  const asked = WAYS.map((way) => ({ kind: KINDS[way], all: fitting.filter((e) => e[way]) }));
  const times = schedules.filter((t) => fits(narrow, t.name, t.times.words, t.flowName));
  return (
    <div className="panel">
      <table className="grid">
        <thead>
          <tr>
            <th aria-label="kind" />
            <th>where, when</th>
            <th>answers with, runs</th>
            <th>state</th>
            <th>last 24 hours</th>
            <th className="n">calls</th>
            <th className="n">half · 99 %</th>
            <th className="n">failed</th>
            <th>last</th>
          </tr>
        </thead>
        <tbody>
          {asked.flatMap(({ kind, all }) =>
            all.map((e, n) => (
              <EndpointRow key={e.name} of={e} kind={n === 0 ? kind : undefined} isOpen={e.name === open} />
            )),
          )}
          {times.map((t, n) => (
            <ScheduleRow key={t.name} of={t} isFirst={n === 0} isOpen={t.name === open} now={now} />
          ))}
          {fitting.length + times.length === 0 && (
            <tr>
              <td colSpan={9} className="soft">
                Nothing fits.
              </td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}

function Row({
  kind,
  name,
  isOpen,
  children,
}: {
  kind?: string;
  name: string;
  isOpen: boolean;
  children: React.ReactNode;
}) {
  const go = useNavigate();
  return (
    <tr className={`pick ${isOpen ? 'on' : ''}`} onClick={() => void go(`/published/${seg(name)}`)}>
      <td className={css.kind}>{kind}</td>
      {children}
    </tr>
  );
}

function EndpointRow({ of: e, kind, isOpen }: { of: EndpointView; kind?: string; isOpen: boolean }) {
  const t = e.traffic;
  const last = e.callers.at(0);
  return (
    <Row kind={kind} name={e.name} isOpen={isOpen}>
      <td className={`${(e.after ?? e.rows) ? '' : 'mono'} nowrap`}>
        <Link to={`/published/${seg(e.name)}`} title={e.name}>
          {whereOf(e)}
        </Link>
      </td>
      <td>
        <Link to={`/flows/${e.flow}`} onClick={(x) => x.stopPropagation()}>
          {e.flowName}
        </Link>{' '}
        <span className="soft">v{e.version}</span>
      </td>
      <td className="nowrap">
        <EndpointState of={e} />
      </td>
      <td>
        <Traffic
          calls={t.calls}
          failed={t.failedOf}
          label={`${count(t.all)} calls, ${count(t.failed)} failed in the last 24 hours`}
        />
      </td>
      <td className="n">{t.all ? count(t.all) : ''}</td>
      <td className="n nowrap">
        {t.halfMicros === undefined ? '' : `${brief(t.halfMicros)} · ${brief(t.mostMicros)}`}
      </td>
      <td className={`n ${t.failed ? 'wrong' : ''}`}>{share(t.failed, t.all)}</td>
      <td className={`soft ${css.last}`} title={last?.caller}>
        {last ? `${last.caller}, ${when(last.at)}` : <span className="faint">nobody yet</span>}
      </td>
    </Row>
  );
}

/** Starting, ready, paused or failing; and whether a newer version of the flow could go live. */
export function EndpointState({ of: e }: { of: EndpointView }) {
  if (e.state === 'paused') return <Status mood="idle">paused by {e.changedBy}</Status>;
  if (e.state === 'starting') return <Status mood="busy">starting</Status>;
  if (e.state === 'failed')
    return (
      <span title={e.why}>
        <Status mood="bad">failing</Status>
      </span>
    );
  return e.newest > e.version ? <Status mood="warn">v{e.newest} is ready</Status> : <Status mood="ok">on</Status>;
}

function ScheduleRow({
  of: t,
  isFirst,
  isOpen,
  now,
}: {
  of: TriggerView;
  isFirst: boolean;
  isOpen: boolean;
  now: number;
}) {
  const next = t.times.next.at(0);
  return (
    <Row kind={isFirst ? 'SCHEDULE' : undefined} name={t.name} isOpen={isOpen}>
      <td>
        <Link to={`/published/${seg(t.name)}`} title={t.name}>
          {t.times.words}
        </Link>
      </td>
      <td>
        <Link to={`/flows/${t.flow}`} onClick={(e) => e.stopPropagation()}>
          {t.flowName}
        </Link>
      </td>
      <td className="nowrap">
        {!t.on ? (
          <Status mood="idle">paused by {t.changedBy}</Status>
        ) : next ? (
          <Status mood="ok">{until(next, now)}</Status>
        ) : (
          <Status mood="warn">never again</Status>
        )}
      </td>
      <td colSpan={4} className="soft">
        {t.name}
      </td>
      <td>
        <Last of={t} />
      </td>
    </Row>
  );
}

/** What came of the latest thing it was due for. */
function Last({ of }: { of: TriggerView }) {
  const last = of.starts.at(0);
  if (!last) return <span className="faint">not yet</span>;
  return last.run == null ? (
    <Status mood="warn">{last.reason}</Status>
  ) : (
    <Link to={`/runs/${last.run}`} onClick={(e) => e.stopPropagation()}>
      run {last.run}
    </Link>
  );
}
