import { misfits, rowNameOf } from '../../common/problems';
import { Segmented } from 'antd';
import { useMemo, useState } from 'react';
import type { FillView } from '../../api/types';
import { Scroll, Toolbar } from '../../common/Panel';
import { Status } from '../../common/ui';
import { MessageText } from '../../common/MessageText';
import type { Filling } from './filling';
import { last } from './rows';
import css from './Message.module.css';

/** The exact message for the specimen, with what does not fit. */
export function Message({ what, fill, number }: { what: Filling['what']; fill: FillView; number: number }) {
  const [view, setView] = useState<'xml' | 'sent' | 'against'>('xml');
  const before = useBefore(number, fill.envelope);
  const hits = useMemo(
    () => new Set(fill.problems.map((p) => rowNameOf(p).replace(/^@|\[\d+\]$/g, ''))),
    [fill.problems],
  );
  return (
    <div className={css.message}>
      <Toolbar>
        <h2>The {what} for this record</h2>
        <Fits fill={fill} />
        <Segmented
          className="push"
          size="small"
          value={view}
          onChange={setView}
          options={[
            { value: 'xml', label: 'Laid out' },
            { value: 'sent', label: what === 'message' ? 'As sent' : 'As written' },
            ...(before ? [{ value: 'against' as const, label: `Against record ${before.number}` }] : []),
          ]}
        />
      </Toolbar>
      <Scroll label={`the ${what}`} className={css.text}>
        <MessageText
          text={fill.envelope}
          asSent={view === 'sent'}
          hits={hits}
          against={view === 'against' ? before?.text : undefined}
        />
      </Scroll>
    </div>
  );
}

/** The message of the record that was looked at before this one. */
function useBefore(number: number, text: string) {
  const [seen, setSeen] = useState<{ number: number; text: string; before?: { number: number; text: string } }>({
    number,
    text,
  });
  if (seen.number !== number) setSeen({ number, text, before: { number: seen.number, text: seen.text } });
  else if (seen.text !== text) setSeen({ ...seen, text });
  return seen.before;
}

function Fits({ fill }: { fill: FillView }) {
  const bad = misfits(fill);
  if (fill.validation.length === 0) return fill.problems.length === 0 && <Status mood="ok">fits its schema</Status>;
  const words = fill.unfilled.length
    ? `${last(fill.unfilled[0])} is required here`
    : bad[0]
      ? `${rowNameOf(bad[0])}: ${bad[0].text}`
      : fill.validation[0].text;
  return (
    <span className="st bad cut" title={fill.validation.map((n) => n.text).join('\n')}>
      <span className="cut">{words}</span>
    </span>
  );
}
