import type { ReactNode } from 'react';
import { count } from '../common/format';
import css from './Outline.module.css';

export interface OutlineStep {
  kind: string;
  title: ReactNode;
  out?: number | null;
  aside?: number;
  inDoubt?: number;
  problem?: string;
  note?: ReactNode;
}

/** Thickness of the wire, in pixels, for so many records: logarithmic, so that one and a million both can be seen. */
export const thickness = (n?: number | null) => (n == null ? 2 : n <= 0 ? 1 : 2 + Math.log10(n) * 2.1);

/**
 * A flow as a numbered outline. The copper line is as thick as there are records; a madder one leaves where records are
 * set aside.
 */
export function Outline({
  steps,
  at,
  onSelect,
  moving,
}: {
  steps: OutlineStep[];
  at?: number;
  onSelect?: (i: number) => void;
  moving?: boolean;
}) {
  return (
    <ol className={css.outline}>
      {steps.map((s, i) => (
        <li key={i}>
          <button
            className={`step ${i === at ? 'on' : ''}`}
            aria-current={i === at ? 'step' : undefined}
            onClick={() => onSelect?.(i)}
          >
            <Wire
              into={i === 0 ? undefined : steps[i - 1].out}
              out={s.out}
              aside={(s.aside ?? 0) + (s.inDoubt ?? 0)}
              first={i === 0}
              last={i === steps.length - 1}
              moving={moving}
            />
            <span className="no num">{i + 1}</span>
            <span className="shrinks">
              <span className="kind">{s.kind}</span>
              <b className="cut">{s.title}</b>
              {s.problem && (
                <span className={`st warn small ${css.wide}`}>
                  <span className="cut" title={s.problem}>
                    {s.problem}
                  </span>
                </span>
              )}
            </span>
            <span className="counts num">
              {s.out != null && <div>{count(s.out)}</div>}
              {s.aside ? <div className="st bad">{count(s.aside)} aside</div> : null}
              {s.inDoubt ? <div className="st warn">{count(s.inDoubt)} in doubt</div> : null}
              {s.note}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}

function Wire({
  into,
  out,
  aside,
  first,
  last,
  moving,
}: {
  into?: number | null;
  out?: number | null;
  aside: number;
  first: boolean;
  last: boolean;
  moving?: boolean;
}) {
  return (
    <svg preserveAspectRatio="none" aria-hidden>
      {!first && <line x1="14" x2="14" y1="-1" y2="17" stroke="var(--copper)" strokeWidth={thickness(into)} />}
      {!last && (
        <line
          x1="14"
          x2="14"
          y1="17"
          y2="101%"
          stroke="var(--copper)"
          strokeWidth={thickness(out)}
          strokeDasharray={moving ? '14 3' : undefined}
        >
          {moving && <animate attributeName="stroke-dashoffset" from="17" to="0" dur="0.7s" repeatCount="indefinite" />}
        </line>
      )}
      {aside > 0 && (
        <path
          d={`M14 24 C14 42 22 40 31 40`}
          fill="none"
          stroke="var(--madder)"
          strokeWidth={Math.max(1.5, thickness(aside) * 0.7)}
        />
      )}
      <circle cx="14" cy="17" r="4.5" fill="var(--panel)" stroke="var(--copper)" strokeWidth="2" />
    </svg>
  );
}
