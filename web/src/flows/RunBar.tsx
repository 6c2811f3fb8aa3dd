import { useMutation } from '@tanstack/react-query';
import { Button, Progress, Segmented } from 'antd';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { api, type ApiProblem } from '../api/client';
import type { RunView } from '../api/types';
import { isLive, named, useEnvironment } from '../app/environment';
import { count, duration } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import { useRun, useRuns } from '../runs';
import { manyCalls } from './calls';
import type { Draft } from './draft/useDraft';
import css from './RunBar.module.css';

type Scope = 'record' | 'first' | 'all';

export function RunBar({
  flow,
  draft,
  total,
  number,
  blocked,
  onRun,
  run,
}: {
  flow: number;
  draft: Draft;
  total?: number | null;
  number: number;
  blocked?: string;
  onRun: (r?: RunView) => void;
  run?: RunView;
}) {
  const environment = useEnvironment();
  const [scope, setScope] = useState<Scope>('record');
  const [id, setId] = useState<number>();
  const runs = useRuns(flow);
  // One that answers requests is no run of this page's.
  const latest = id ?? runs.data?.find((r) => r.scope !== 'requests')?.id;
  const live = useRun(latest);
  useEffect(() => {
    onRun(live);
  }, [live, onRun]);
  const start = useMutation({
    mutationFn: async (isBeside?: boolean) => {
      await draft.flush();
      return api.post<{ id: number }>('/runs', {
        flow,
        environment,
        isBeside: !!isBeside,
        scope: scope === 'all' ? 'all' : scope === 'first' ? 'first:10' : `record:${number}`,
      });
    },
    onSuccess: (r) => setId(r.id),
  });
  const stop = useMutation({ mutationFn: (isNow: boolean) => api.post(`/runs/${latest}/stop`, { isNow }) });
  const [asked, setAsked] = useState<string>();
  const begin = (isBeside: boolean) => {
    setAsked(undefined);
    start.mutate(isBeside);
  };
  const ask = () => {
    const many = isLive(environment) && scope === 'all' ? manyCalls(draft.flow, total ?? undefined) : undefined;
    if (many) setAsked(many);
    else begin(false);
  };
  const busy = (start.error as ApiProblem | null)?.code === 'run.busy';
  const running = run?.state === 'running';
  return (
    <div className={css.area}>
      <div className={`row ${css.bar}`}>
        <Segmented<Scope>
          size="small"
          value={scope}
          onChange={setScope}
          options={[
            { value: 'record', label: 'Specimen' },
            { value: 'first', label: 'First 10' },
            { value: 'all', label: total != null ? `All ${count(total)}` : 'All' },
          ]}
        />
        {running ? (
          <Button size="small" danger loading={stop.isPending} onClick={() => stop.mutate(!!run?.isStopping)}>
            {run?.isStopping ? 'Stop now' : 'Stop'}
          </Button>
        ) : (
          <Button
            type="primary"
            size="small"
            className="push"
            disabled={!!blocked}
            title={blocked ?? `Runs against ${environment}`}
            loading={start.isPending}
            onClick={ask}
          >
            {named('Run', environment)}
          </Button>
        )}
      </div>
      {asked && !running && (
        <div className={`small ${css.gap}`} role="alert">
          <Status mood="warn">{environment}</Status> This makes {asked} in {environment}.
          <div className={`row ${css.action}`}>
            <Button size="small" danger autoFocus onClick={() => begin(false)}>
              Run in {environment}
            </Button>
            <Button size="small" type="text" onClick={() => setAsked(undefined)}>
              Not now
            </Button>
          </div>
        </div>
      )}
      {start.isError && (
        <div className={css.gap}>
          <ErrorText error={start.error} />
          {busy && (
            <Button size="small" className={css.action} onClick={() => begin(true)}>
              Run beside it all the same
            </Button>
          )}
        </div>
      )}
      {run && <RunLine run={run} />}
    </div>
  );
}

function RunLine({ run }: { run: RunView }) {
  const share = run.expected ? Math.min(100, (100 * run.read) / run.expected) : 0;
  const rate = run.workedMillis > 300 ? (run.read * 1000) / run.workedMillis : undefined;
  const left = rate && run.expected ? ((run.expected - run.read) / rate) * 1000 : undefined;
  return (
    <div className={`small num ${css.action}`}>
      {run.state === 'running' && <Progress percent={share} showInfo={false} size="small" className={css.box} />}
      <div className={`row soft ${css.bar}`}>
        {run.state === 'running' ? (
          <>
            <span>
              {count(run.read)} of {count(run.expected)}
            </span>
            <span>{rate ? `${count(Math.round(rate))} a second` : ''}</span>
            <span>{left ? `${duration(left)} left` : ''}</span>
            <Link className="push nowrap" to={`/runs/${run.id}`}>
              run {run.id}
            </Link>
          </>
        ) : (
          <>
            {run.state === 'finished' ? (
              <Status mood={run.setAside + run.inDoubt ? 'warn' : 'ok'}>
                {count(run.done)} done{run.setAside ? `, ${count(run.setAside)} aside` : ''}
                {run.inDoubt ? `, ${count(run.inDoubt)} in doubt` : ''}
              </Status>
            ) : (
              <span title={run.reason}>
                <Status mood={run.state === 'paused' ? 'warn' : 'bad'}>{run.state}</Status>
              </span>
            )}
            <Link className="push nowrap" to={`/runs/${run.id}`}>
              run {run.id}
            </Link>
          </>
        )}
      </div>
    </div>
  );
}
