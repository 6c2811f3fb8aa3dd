import { Button } from 'antd';
import { ErrorText, Status, type Mood } from '../common/ui';
import type { TrayState } from './useTray';
import css from './Settle.module.css';

const MOST = 50;
const MOODS: Record<string, Mood> = { happened: 'ok', 'did not happen': 'bad' };

/**
 * Asks the flow that the call's step names whether the chosen calls in doubt happened. What it says is shown; whoever
 * asked decides.
 */
export function AskLookUp({ tray: t }: { tray: TrayState }) {
  const doubts = t.records.filter((r) => t.chosen.has(r.number) && r.inDoubt).map((r) => r.number);
  return (
    <div className={css.asked}>
      <Button size="small" loading={t.ask.isPending} onClick={() => t.ask.mutate(doubts.slice(0, MOST))}>
        Ask the look-up
      </Button>{' '}
      {!t.ask.data && <span className="soft small">The flow named in the call’s settings says what it finds.</span>}
      {t.ask.isError && <ErrorText error={t.ask.error} />}
      {t.ask.data?.map((f) => (
        <div key={f.number} className="small">
          <span className="num">{f.number}</span> <Status mood={MOODS[f.verdict] ?? 'warn'}>{f.verdict}</Status>{' '}
          <span className="soft">{f.text}</span>
        </div>
      ))}
    </div>
  );
}
