import { Button, Input } from 'antd';
import { useState } from 'react';
import type { BeginProps } from '../kind';
import css from './FileSource.module.css';

const MIN_ROWS = 5;
const MAX_ROWS = 16;

/** A place to drop a file on; or its text, or the name pattern of several. */
export const BeginFile = ({ begin, choose, take, over }: BeginProps) => {
  const [way, setWay] = useState<'text' | 'files'>();
  const [text, setText] = useState('');
  const [pattern, setPattern] = useState('');
  return (
    <>
      <div className={`drop ${over ? 'over' : ''}`}>
        Drop a file here, or{' '}
        <button className="link" onClick={choose}>
          choose one
        </button>
        : delimited, of fixed width, JSON, JSON lines, XML or XLSX. How it is written is recognised.
      </div>
      <p className="soft">
        Or{' '}
        <button className="link" aria-expanded={way === 'text'} onClick={() => setWay('text')}>
          paste a text
        </button>{' '}
        or read{' '}
        <button className="link" aria-expanded={way === 'files'} onClick={() => setWay('files')}>
          several files
        </button>{' '}
        of the folder of files.
      </p>
      {way === 'text' && (
        <div className={css.paste}>
          <Input.TextArea
            aria-label="text of records"
            autoFocus
            className="mono"
            spellCheck={false}
            autoSize={{ minRows: MIN_ROWS, maxRows: MAX_ROWS }}
            placeholder={'call_ref;port\nTR-31-0601;OSTRY'}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <Button disabled={!text.trim()} onClick={() => take(new File([text], 'pasted'))}>
            Read it
          </Button>
        </div>
      )}
      {way === 'files' && (
        <div className="row">
          <Input
            aria-label="pattern of names"
            autoFocus
            className={`mono ${css.pattern}`}
            placeholder="orders/*.csv"
            value={pattern}
            onChange={(e) => setPattern(e.target.value)}
            onPressEnter={() => pattern.trim() && begin({ files: pattern.trim() })}
          />
          <Button disabled={!pattern.trim()} onClick={() => begin({ files: pattern.trim() })}>
            Read them
          </Button>
          <span className="soft small">* for any part of a name, ** for folders, too</span>
        </div>
      )}
    </>
  );
};
