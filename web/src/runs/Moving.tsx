import { Button, Progress } from 'antd';
import type { RunView } from '../api/types';
import { count, duration } from '../common/format';
import css from './Moving.module.css';

export function Moving({ run, stop }: { run: RunView; stop: () => void }) {
  const rate = run.workedMillis > 300 ? (run.read * 1000) / run.workedMillis : 0;
  return (
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
  );
}
