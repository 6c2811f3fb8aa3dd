import type { PickTrial } from '../../../api/types';
import { count } from '../../../common/format';
import { Status } from '../../../common/ui';
import { placeWords } from './paths';
import css from './Answer.module.css';

interface Props {
  tried: PickTrial;
  /** Looks at a record's answer. */
  look: (number: number) => void;
}

/** Strings that are no documents although those of other records are: why, and whose. */
export function Unopened({ tried, look }: Props) {
  const records = tried.unopened.reduce((n, f) => n + f.records, 0);
  if (records === 0) return null;
  return (
    <section className={css.alert} aria-label="do not open">
      <div className="row">
        <h2>Do not open</h2>
        <Status mood="warn">
          {count(records)} of {count(tried.answers)}
        </Status>
      </div>
      {tried.unopened.map((f, i) => (
        <div key={i} className={css.unopened}>
          <span className="mono">{placeWords(f.path)}</span> <span className="soft">{f.text}</span>{' '}
          <span className="soft nowrap">
            {f.records > 1 && `${count(f.records)} records, `}
            {tried.run ? (
              <button className="link" onClick={() => look(f.numbers[0])}>
                look at record {f.numbers[0]}
              </button>
            ) : null}
          </span>
        </div>
      ))}
    </section>
  );
}
