import { useEffect, useRef, useState } from 'react';
import type { PageForm } from '../api/types';
import { wide } from '../common/place';
import { Fields } from './FieldOf';
import { problemsOf, type Problems, type Values } from './values';
import css from './RunPage.module.css';

interface Props {
  form: PageForm;
  values: Values;
  set: (to: Values) => void;
  /** What the server found. */
  problems: Problems;
  ask?: () => void;
  /** While it is being asked: since when, and whether the server is away. */
  busy?: { since: number; isAway: boolean; usualMillis?: number };
}

/** The form of a page: nothing is sent before all fits. */
export function AskForm({ form, values, set, problems, ask, busy }: Props) {
  const [own, setOwn] = useState<Problems>({});
  const box = useRef<HTMLFormElement>(null);
  const all = { ...problems, ...own };
  const count = Object.keys(all).length;
  useEffect(() => {
    if (count > 0) box.current?.querySelector<HTMLElement>('[aria-invalid=true]')?.focus();
  }, [count]);
  return (
    <form
      ref={box}
      className={css.form}
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        const found = problemsOf(form.fields, values);
        setOwn(found);
        if (Object.keys(found).length === 0) ask?.();
      }}
    >
      <Fields
        fields={form.fields}
        values={values}
        set={(to) => {
          // What was wrong is looked at again when it is sent; until then nothing nags.
          setOwn({});
          set(to);
        }}
        problems={all}
      />
      {all[''] && (
        <p className={css.problem} role="alert">
          <span aria-hidden="true">■</span> {all['']}
        </p>
      )}
      {count > 0 && (
        <p className={css.problem} role="alert">
          {count === 1 ? 'One thing does' : `${count} things do`} not fit yet.
        </p>
      )}
      {busy ? (
        <Progress {...busy} />
      ) : (
        <button type="submit" className={css.deed} disabled={!ask}>
          {form.deed ?? 'Ask'}
        </button>
      )}
    </form>
  );
}

const TICK_MILLIS = 250;

/** How long it has taken, against how long it usually does. */
function Progress({ since, isAway, usualMillis }: NonNullable<Props['busy']>) {
  const [now, setNow] = useState(since);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), TICK_MILLIS);
    return () => clearInterval(timer);
  }, []);
  const taken = Math.max(0, now - since);
  // Never quite full before it is: half of the answers take longer than half do.
  const part = usualMillis ? 1 - Math.exp(-taken / Math.max(usualMillis, 500)) : undefined;
  const words = isAway ? 'The line is broken. It is tried again by itself.' : `${seconds(taken)}${usual(usualMillis)}`;
  return (
    <div className={css.progress} role="status">
      <div className={css.track}>
        <div
          className={part === undefined ? css.endless : css.bar}
          style={part === undefined ? undefined : wide(`${Math.round(part * 100)}%`)}
        />
      </div>
      <span className="soft num">{words}</span>
    </div>
  );
}

const seconds = (millis: number) =>
  millis < 60_000
    ? `${Math.floor(millis / 1000)} s`
    : `${Math.floor(millis / 60_000)} min ${Math.floor((millis % 60_000) / 1000)} s`;

const usual = (millis: number | undefined) =>
  millis === undefined ? '' : ` · usually ${millis < 1_000 ? 'less than a second' : seconds(millis)}`;
