import { useState } from 'react';
import type { Api, BenchAnswer } from '../api/types';
import { timesOf } from '../common/times';
import { millis, plural } from '../common/format';
import { TreeView } from '../common/TreeView';
import css from './AnswerParts.module.css';
import { wide } from '../common/place';

const TINTS = { way: css.way, waited: css.waited, read: css.read };

/** Where the time went: the way there in its parts, waiting, and reading. What took nothing is not told. */
export function Times({ wait, read, way }: { wait: number; read: number; way?: Api<'WayView'> }) {
  const all = Math.max(1, wait + read);
  const parts = timesOf(wait, read, way);
  return (
    <div className={css.inset2}>
      <div className={css.box}>
        {parts.map((p) => (
          <i key={p.what} className={TINTS[p.tint]} style={wide(`${(100 * p.micros) / all}%`)} />
        ))}
      </div>
      <div className={`row soft num ${css.bar2}`}>
        {parts.map((p) => (
          <span key={p.what}>
            {p.what} {millis(p.micros / 1000)}
          </span>
        ))}
        {way && way.attempts > 1 && <span>{way.attempts} attempts</span>}
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
