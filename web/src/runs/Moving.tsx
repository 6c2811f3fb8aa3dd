import { useMutation } from '@tanstack/react-query';
import { Button, Progress, Select } from 'antd';
import { api } from '../api/client';
import type { RunView } from '../api/types';
import { count, duration } from '../common/format';
import { ErrorText } from '../common/ui';
import css from './Moving.module.css';

const RATES = [1, 5, 20, 100, 500];

/** A run that goes on: how fast, and slowing it down, pausing and stopping it. */
export function Moving({ run, stop, onDone }: { run: RunView; stop: () => void; onDone: () => void }) {
  const rate = run.workedMillis > 300 ? (run.read * 1000) / run.workedMillis : 0;
  const slower = useMutation({
    mutationFn: (recordsPerSecond: number) => api.post(`/runs/${run.id}/slower`, { recordsPerSecond }),
    onSuccess: onDone,
  });
  const pause = useMutation({ mutationFn: () => api.post(`/runs/${run.id}/pause`), onSuccess: onDone });
  return (
    <>
      <div className={`row small num ${css.gap}`}>
        <Progress
          percent={run.expected ? (100 * run.read) / run.expected : 0}
          showInfo={false}
          size="small"
          className={css.box}
        />
        <span className="soft nowrap">
          {rate ? `${count(Math.round(rate))} a second` : ''}
          {rate && run.expected ? `, ${duration(((run.expected - run.read) / rate) * 1000)} left` : ''}
        </span>
      </div>
      <div className={`row small ${css.gap}`}>
        <Select
          size="small"
          aria-label="how fast"
          className={css.rate}
          value={run.recordsPerSecond}
          onChange={(v) => slower.mutate(v)}
          options={[
            { value: 0, label: 'as fast as it goes' },
            ...RATES.map((n) => ({ value: n, label: `at most ${n} a second` })),
          ]}
        />
        <Button size="small" className="push" loading={pause.isPending} onClick={() => pause.mutate()}>
          Pause
        </Button>
        <Button
          size="small"
          danger
          onClick={stop}
          title={
            run.isStopping
              ? 'Ends the calls under way, too; those that were being sent are in doubt'
              : 'Calls under way end first'
          }
        >
          {run.isStopping ? 'Stop now' : 'Stop'}
        </Button>
      </div>
      {(slower.error ?? pause.error) && <ErrorText error={slower.error ?? pause.error} />}
    </>
  );
}
