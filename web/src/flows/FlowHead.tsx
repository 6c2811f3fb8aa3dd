import { Input } from 'antd';
import { count, plural } from '../common/format';
import type { Draft } from './draft/useDraft';
import { callsOf, sharesAnswers } from './calls';
import { Versions } from './Versions';
import css from './FlowHead.module.css';
import { AboutBox } from '../about';

/** The flow's name, whether it is kept, and how many calls a run on all would make. */
export const FlowHead = ({ flow, draft, records }: { flow: number; draft: Draft; records?: number }) => (
  <div className={css.head}>
    <Input
      aria-label="flow name"
      variant="borderless"
      className={css.name}
      value={draft.name}
      onChange={(e) => draft.rename(e.target.value)}
    />
    <AboutBox kind="flow" name={String(flow)} />
    <div className="soft small">
      <Saved flow={flow} draft={draft} />
    </div>
    {records != null && <Estimate draft={draft} records={records} />}
  </div>
);

function Saved({ flow, draft }: { flow: number; draft: Draft }) {
  if (draft.conflict)
    return (
      <>
        changed elsewhere;{' '}
        <button className="link" onClick={() => void draft.reload()}>
          load that version
        </button>
      </>
    );
  if (draft.error) return <span className="st bad">not saved: {draft.error.message}</span>;
  return (
    <span className="num">
      <Versions flow={flow} draft={draft} /> · {draft.clean ? 'all changes saved' : 'saving'}
      {draft.canUndo && <Deed does="undo" run={draft.undo} />}
      {draft.canRedo && <Deed does="redo" run={draft.redo} />}
    </span>
  );
}

const Deed = ({ does, run }: { does: string; run: () => void }) => (
  <>
    {' '}
    ·{' '}
    <button className="link soft" onClick={run}>
      {does}
    </button>
  </>
);

function Estimate({ draft, records }: { draft: Draft; records: number }) {
  const { each, inEach, once, steps } = callsOf(draft.flow);
  const atMost = sharesAnswers(draft.flow) ? 'at most ' : '';
  const words = [
    each || !inEach ? (each ? `${atMost}${count(records * each)} calls` : steps ? '' : 'no calls') : '',
    inEach ? `${plural(inEach, 'call')} a part` : '',
    once ? `${plural(once, 'call')} once a run` : '',
  ].filter(Boolean);
  return (
    <div className="soft small num">
      {count(records)} {records === 1 ? 'record' : 'records'} → {words.join(', ')}
      {inEach || once ? '' : ' for a run on all'}
    </div>
  );
}
