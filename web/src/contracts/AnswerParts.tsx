import { useState } from 'react';
import type { Api, BenchAnswer } from '../api/types';
import { millis, plural } from '../common/format';
import { TreeView } from '../common/TreeView';
import css from './AnswerParts.module.css';
import { wide } from '../common/place';

export function Times({ wait, read }: { wait: number; read: number }) {
  const all = Math.max(1, wait + read);
  return (
    <div className={css.inset2}>
      <div className={css.box}>
        <i className={css.waited} style={wide(`${(100 * wait) / all}%`)} />
        <i className={css.read} style={wide(`${(100 * read) / all}%`)} />
      </div>
      <div className={`row soft num ${css.bar2}`}>
        <span>connect and wait {millis(wait / 1000)}</span>
        <span>read {millis(read / 1000)}</span>
      </div>
    </div>
  );
}

/** An answer that does not match its schema is shown like any other, with what does not match. */
export function AnswerNotes({ notes }: { notes: BenchAnswer['answerNotes'] }) {
  const [all, setAll] = useState(false);
  return (
    <div className={`notice warn small ${css.notice}`}>
      <b>{plural(notes.length, 'difference')} from its schema.</b>{' '}
      {(all ? notes : notes.slice(0, 1)).map((n, i) => (
        <div key={i}>
          {n.place?.line ? <span className="faint">line {n.place.line} </span> : null}
          {n.text}
        </div>
      ))}
      {notes.length > 1 && (
        <button className="link soft" onClick={() => setAll(!all)}>
          {all ? 'show one' : 'show all'}
        </button>
      )}
    </div>
  );
}

/** @param isPlain whether it is told by the status of the answer */
export function FaultBox({ fault: f, isPlain }: { fault: Api<'FaultView'>; isPlain: boolean }) {
  return (
    <div className={`notice ${css.notice}`}>
      <b>{isPlain ? f.name : `Fault ${f.name}`}</b>
      <div>{f.reason}</div>
      {!isPlain && (
        <div className="soft small">
          code {f.code}
          {f.actor ? `, from ${f.actor}` : ''}
        </div>
      )}
      {f.detail && <TreeView root={f.detail} />}
    </div>
  );
}

export function Headers({ title, of }: { title: string; of: string[][] }) {
  return (
    <>
      <h2 className={css.heading2}>{title}</h2>
      {of.map((h, i) => (
        <div key={i} className="mono">
          <span className="soft">{h[0]}:</span> {h[1]}
        </div>
      ))}
      {of.length === 0 && <span className="faint">none</span>}
    </>
  );
}
