import type { TriedCall } from '../../../api/types';
import { Scroll, Split } from '../../../common/Panel';
import { Empty, ErrorText } from '../../../common/ui';
import { MessageText } from '../../../common/MessageText';
import { useKeptAnswer } from '../../queries';
import type { Where } from '../../where';
import css from './Exchange.module.css';

/** Both messages of the call just tried, or of the one that is kept. */
export function Exchange({ where, tried, error }: { where: Where; tried?: TriedCall; error: unknown }) {
  const kept = useKeptAnswer(where.flow, where.step);
  const x = tried ?? kept.data;
  if (error)
    return (
      <div className={css.inset}>
        <ErrorText error={error} />
      </div>
    );
  if (!x)
    return (
      <Empty title="No exchange yet">
        Try the call: both messages will be shown here, and the answer is kept for the steps after it.
      </Empty>
    );
  return (
    <Split
      left={
        <Scroll label="request" className={`${css.message} ${css.request}`}>
          <h2 className={css.heading}>Request</h2>
          <MessageText text={x.request} />
        </Scroll>
      }
      right={
        <Scroll label="answer" className={css.message}>
          <h2 className={css.heading}>Answer</h2>
          {x.failure && <div className={`notice ${css.heading}`}>{x.failure}</div>}
          <MessageText text={x.answer} />
        </Scroll>
      }
    />
  );
}
