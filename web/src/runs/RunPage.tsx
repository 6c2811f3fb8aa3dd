import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { api } from '../api/client';
import type { RunCharts, RunView } from '../api/types';
import { count, duration, millis, plural, when } from '../common/format';
import { Outline, seen } from '../flows';
import { LatencyChart, RateChart } from './charts';
import { RunState, scopeWords } from './RunState';
import { TrailPane } from './TrailPane';
import { TrayGrid } from './TrayGrid';
import { GoOn } from './GoOn';
import { useFollowedRun } from './useRun';
import css from './RunPage.module.css';
import { Moving } from './Moving';
import { FindRecord } from './FindRecord';
import { Lines } from './Lines';
import { Rows } from './Rows';
import { Tabs } from '../common/ui';

type Shown = 'waiting' | 'lines' | 'rows';

const withRecord = (p: URLSearchParams, n?: number) => {
  if (n) p.set('record', String(n));
  else p.delete('record');
  return p;
};

export function RunPage() {
  const id = Number(useParams().id);
  const { run, lost } = useFollowedRun(id);
  const queries = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const record = search.get('record') ? Number(search.get('record')) : undefined;
  const showRecord = (n?: number) => setSearch((p) => withRecord(p, n), { replace: true });
  const [step, setStep] = useState<string>();
  const [tab, setTab] = useState<Shown>('waiting');
  const again = () => void queries.invalidateQueries({ queryKey: ['run', id] });
  const stop = useMutation({
    mutationFn: (isNow: boolean) => api.post(`/runs/${id}/stop`, { isNow }),
    onSuccess: again,
  });
  const charts = useQuery({
    queryKey: ['charts', id, run?.read],
    enabled: !!run,
    placeholderData: keepPreviousData,
    queryFn: () => api.get<RunCharts>(`/runs/${id}/charts`),
  });
  if (!run) return null;
  const chosen = step?.split('/')[0];
  const isWrite = run.steps.some((s) => s.step === chosen && s.kind === 'write');
  const shown = tab === 'rows' && !isWrite ? 'waiting' : tab;
  const choose = (key: string) => {
    setStep(key === step ? undefined : key);
    // What a write step has to show is what it wrote; what waits because of it is one click away.
    const at = run.steps.find((s) => s.step === key);
    if (key !== step) setTab(at?.kind === 'write' && !at.waiting ? 'rows' : tab === 'rows' ? 'waiting' : tab);
  };
  const calls = run.steps.filter((s) => s.kind === 'call' && !s.arm);
  return (
    <div className={css.columns}>
      <section className={`scroll ${css.body}`}>
        <div className={css.inset}>
          <div className="row">
            <h1 className="cut">
              {run.flow ? (
                <Link to={`/flows/${run.flow}`} className="bare">
                  {run.flowName}
                </Link>
              ) : (
                run.flowName
              )}
            </h1>
            <span className="push">
              <RunState run={run} />
            </span>
          </div>
          <div className="soft small">
            run {run.id} · v{run.flowVersion} · {scopeWords(run.scope)} · started {when(run.startedAt)} by{' '}
            {run.startedBy} · {run.environment} · {run.state === 'running' ? 'for' : 'took'}{' '}
            {duration(run.workedMillis)}
          </div>
          {lost && (
            <div className={`notice warn ${css.notice}`} role="alert">
              The server does not answer; shown is what was known last. This page goes on by itself.
            </div>
          )}
          {run.state === 'running' && run.scope === 'requests' && <Answering />}
          {run.state === 'running' && run.scope !== 'requests' && (
            <Moving run={run} stop={() => stop.mutate(run.isStopping)} onDone={again} />
          )}
          {run.state !== 'running' && <GoOn run={run} onDone={again} />}
          {run.changes?.map((c) => (
            <div key={c} className={`soft small ${css.gap}`}>
              {c}
            </div>
          ))}
        </div>
        <Fates run={run} />
        <Outline
          steps={seen(run.steps).map((s) => ({ ...s, out: s.passed, aside: s.waiting }))}
          at={step}
          onSelect={choose}
          moving={run.state === 'running'}
        />
        <div className={`soft small num ${css.inset2}`}>
          every record is accounted for: {count(run.done)} + {count(run.setAside)} + {count(run.inDoubt)}
          {run.discarded ? ` + ${count(run.discarded)} discarded` : ''}
          {run.gathered ? ` + ${count(run.gathered)} gathered` : ''} = {count(run.read)}
          {run.steps.some((s) => s.kind === 'write') && (
            <>
              <br />
              {plural(run.written, 'row')} written
              {run.leftOut ? `, ${count(run.leftOut)} left out: as they were` : ''}
            </>
          )}
          {Object.entries(run.totals).map(([name, value]) => (
            <div key={name}>
              {name}: {count(value)}
            </div>
          ))}
        </div>
      </section>
      <section className={css.frame}>
        <div className={`row ${css.bar}`}>
          <h1 className="nowrap">{calls.length === 1 ? calls[0].title : 'Run'}</h1>
          <span className="soft num cut">
            {plural(run.calls, 'call')}
            {run.workedMillis > 0
              ? ` · ${count(Math.round((run.read * 1000) / Math.max(1, run.workedMillis)))} records a second`
              : ''}
          </span>
          <FindRecord run={id} onFound={showRecord} />
        </div>
        <div className={css.columns2}>
          <div>
            <h2>records a second</h2>
            {charts.data && <RateChart points={charts.data.rate} />}
          </div>
          <div>
            <h2>
              time to answer{' '}
              <span className={`num ${css.text}`}>
                {run.halfMillis != null && (
                  <>
                    half under {millis(run.halfMillis)}, 90 % under {millis(run.ninetyMillis)}, 99 % under{' '}
                    {millis(run.ninetyNineMillis)}
                  </>
                )}
              </span>
            </h2>
            {charts.data && <LatencyChart buckets={charts.data.latency} half={run.halfMillis} />}
          </div>
        </div>
        {(run.lines > 0 || isWrite) && (
          <Tabs<Shown>
            value={shown}
            onChange={setTab}
            items={[
              { id: 'waiting', label: `Waiting ${count(run.setAside + run.inDoubt)}` },
              ...(run.lines ? [{ id: 'lines' as const, label: `Log ${count(run.lines)}` }] : []),
              ...(isWrite ? [{ id: 'rows' as const, label: 'Rows written' }] : []),
            ]}
          />
        )}
        <div className={record ? css.tray2 : css.tray}>
          {shown === 'waiting' && <TrayGrid run={run} step={chosen} record={record} onTrail={showRecord} />}
          {shown === 'lines' && <Lines run={run} step={chosen} onTrail={showRecord} />}
          {shown === 'rows' && <Rows run={run} step={chosen ?? ''} onTrail={showRecord} />}
          {record ? <TrailPane run={run} record={record} onTrail={showRecord} /> : null}
        </div>
      </section>
    </div>
  );
}

/** Every record has one of these. */
const Fates = ({ run }: { run: RunView }) => (
  <div className={`sum num ${css.gap2}`}>
    <div>
      <b>{count(run.read)}</b>
      <span className="soft">read</span>
    </div>
    <div>
      <b>{count(run.done)}</b>
      <span className="st ok">done</span>
    </div>
    <div>
      <b>{count(run.setAside)}</b>
      <span className={`st ${run.setAside ? 'bad' : 'idle'}`}>set aside</span>
    </div>
    <div>
      <b>{count(run.inDoubt)}</b>
      <span className={`st ${run.inDoubt ? 'warn' : 'idle'}`}>in doubt</span>
    </div>
    {run.gathered > 0 && (
      <div>
        <b>{count(run.gathered)}</b>
        <span className="st idle">gathered</span>
      </div>
    )}
  </div>
);

/** Of a run that answers requests. */
const Answering = () => (
  <div className={`soft small ${css.gap}`}>
    It goes on until what it answers is paused, or another version goes live: <Link to="/published">published</Link>.
  </div>
);
