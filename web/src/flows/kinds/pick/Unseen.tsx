import { useState } from 'react';
import type { RecordKind } from '../../../api/types';
import { plural } from '../../../common/format';
import { ALL, leaves, placeWords } from './paths';
import type { Known } from './places';
import { Ticks, type Toggle } from './Ticks';
import css from './Answer.module.css';

const SHOWN = 12;
const MOST = 300;

/** Values that this answer has not: others had them, or a schema says that there may be some. */
export function Unseen({ answer, kinds, toggle }: { answer: Known; kinds: RecordKind[]; toggle: Toggle }) {
  const [all, setAll] = useState(false);
  const found = leaves(answer, '', ALL)
    .filter((l) => l.isUnseen)
    .sort((a, b) => Number(!!b.seen) - Number(!!a.seen));
  if (found.length === 0) return null;
  return (
    <section className={css.part} aria-label="not in this answer">
      <h2>Not in this answer</h2>
      {found.slice(0, all ? MOST : SHOWN).map((l) => (
        <div key={l.path} className={css.unseen}>
          <Ticks path={l.path} leaf={l} kinds={kinds} toggle={toggle} />
          <span className="mono cut">{placeWords(l.path)}</span>
          <span className="faint nowrap push">{l.seen ? `${plural(l.seen, 'value')} elsewhere` : 'may be there'}</span>
        </div>
      ))}
      {!all && found.length > SHOWN && (
        <button className="link soft" onClick={() => setAll(true)}>
          show all {found.length}
        </button>
      )}
    </section>
  );
}
