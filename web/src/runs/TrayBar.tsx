import { Button } from 'antd';
import { count, plural } from '../common/format';
import type { RunView } from '../api/types';
import { MendAll } from './MendAll';
import type { TrayState } from './useTray';
import { Settle } from './Settle';
import { StartOver } from './StartOver';
import css from './TrayBar.module.css';

/** The reasons for which records wait, and the sending of those that were mended or chosen. */
export function TrayBar({ run, step, tray: t }: { run: RunView; step?: string; tray: TrayState }) {
  // Of the reason that is looked at, or the only one there is.
  const reason = t.reasons.find((r) => r.code === t.code) ?? (t.reasons.length === 1 ? t.reasons[0] : undefined);
  return (
    <div className={`row wrap ${css.bar}`}>
      <h2>waiting {count(t.reasons.reduce((n, r) => n + r.count, 0))}</h2>
      {t.reasons.map((r) => (
        <button
          key={`${r.code}/${r.step}`}
          className={`reason ${t.code === r.code ? 'on' : ''}`}
          title={r.todo}
          onClick={() => t.setCode(t.code === r.code ? undefined : r.code)}
        >
          {r.inDoubt ? 'in doubt: ' : ''}
          {r.code} · <span className="num">{count(r.count)}</span>
        </button>
      ))}
      {reason?.todo && <span className="soft small">{reason.todo}</span>}
      <span className="push row">
        <span className="soft small">
          {!t.canSend
            ? run.state === 'running'
              ? 'its file is written in one go: send again once it is finished'
              : 'resume the run first'
            : t.numbers.length
              ? ''
              : 'edit values, or choose records'}
        </span>
        {t.answered > 0 && <StartOver run={run} tray={t} />}
        <MendAll run={run} step={step} tray={t} />
        <Settle tray={t} />
        <Button
          type="primary"
          size="small"
          disabled={t.numbers.length === 0 || !t.canSend}
          loading={t.again.isPending}
          onClick={() => t.again.mutate(false)}
        >
          Send {t.numbers.length ? plural(t.numbers.length, 'record') : ''} again{' '}
          <span className={css.text}>Ctrl ⏎</span>
        </Button>
      </span>
    </div>
  );
}
