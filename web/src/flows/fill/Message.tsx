import { misfits, rowNameOf } from '../../common/problems';
import { Segmented } from 'antd';
import { useMemo, useState } from 'react';
import type { FillView } from '../../api/types';
import { plural } from '../../common/format';
import { Scroll, Toolbar } from '../../common/Panel';
import { ErrorText, Status } from '../../common/ui';
import { MessageText } from '../../common/MessageText';
import type { Filling } from './filling';
import { useStylesheet } from './queries';
import type { Where } from '../where';
import { last } from './rows';
import css from './Message.module.css';

/** The exact message for the specimen, with what does not fit. */
export function Message({ filling, fill, where }: { filling: Filling; fill: FillView; where: Where }) {
  const { what } = filling;
  const [view, setView] = useState<'xml' | 'sent' | 'against' | 'sheet'>('xml');
  const before = useBefore(where.number, fill.envelope);
  const hits = useMemo(
    () => new Set(fill.problems.map((p) => rowNameOf(p).replace(/^@|\[\d+\]$/g, ''))),
    [fill.problems],
  );
  return (
    <div className={css.message}>
      <Toolbar>
        <h2>{view === 'sheet' ? 'The fill as a stylesheet' : `The ${what} for this record`}</h2>
        {view !== 'sheet' && <Fits fill={fill} />}
        <Segmented
          className="push"
          size="small"
          value={view}
          onChange={setView}
          options={[
            { value: 'xml', label: 'Laid out' },
            { value: 'sent', label: what === 'message' ? 'As sent' : 'As written' },
            ...(before ? [{ value: 'against' as const, label: `Against record ${before.number}` }] : []),
            ...(fill.envelope.startsWith('<') ? [{ value: 'sheet' as const, label: 'XSLT' }] : []),
          ]}
        />
      </Toolbar>
      <Scroll label={`the ${what}`} className={css.text}>
        {view === 'sheet' ? (
          <Stylesheet filling={filling} where={where} />
        ) : (
          <MessageText
            text={fill.envelope}
            asSent={view === 'sent'}
            hits={hits}
            against={view === 'against' ? before?.text : undefined}
          />
        )}
      </Scroll>
    </div>
  );
}

/** The fill for use elsewhere, with what is not part of it. */
function Stylesheet({ filling, where }: { filling: Filling; where: Where }) {
  const sheet = useStylesheet(filling, where, true);
  const [isCopied, setCopied] = useState(false);
  if (sheet.isError) return <ErrorText error={sheet.error} />;
  if (!sheet.data) return null;
  const { text, notes } = sheet.data;
  return (
    <>
      <div className="row small">
        <button className="link" onClick={() => void navigator.clipboard.writeText(text).then(() => setCopied(true))}>
          {isCopied ? 'copied' : 'copy'}
        </button>
        <span className="soft">
          XSLT 3.0; it makes the same {filling.what} of the same record{notes.length > 0 && ', but for'}
        </span>
        {notes.length > 0 && <Status mood="warn">{plural(notes.length, 'row')}</Status>}
      </div>
      {notes.map((n) => (
        <div key={n} className="soft small">
          {n}
        </div>
      ))}
      <MessageText text={text} asSent hits={NONE} />
    </>
  );
}

const NONE = new Set<string>();

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
