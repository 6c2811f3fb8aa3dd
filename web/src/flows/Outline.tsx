import type { ReactNode } from 'react';
import { count } from '../common/format';
import { wire, type OutlineRow } from './outlineRows';
import { Wire } from './Wire';
import { besideLane } from '../common/place';
import css from './Outline.module.css';

export interface OutlineStep extends OutlineRow {
  /** What the step names, beside its kind. */
  note?: ReactNode;
  out?: number | null;
  aside?: number;
  inDoubt?: number;
  problem?: string;
}

/**
 * A flow as a numbered outline. The copper line is as thick as there are records and branches where they do; a madder
 * thread leaves where records are set aside.
 */
export function Outline({
  steps,
  at,
  onSelect,
  moving,
}: {
  steps: OutlineStep[];
  /** The key of the row looked at. */
  at?: string;
  onSelect?: (key: string) => void;
  moving?: boolean;
}) {
  const counts = new Map(steps.map((s) => [s.key, s.out ?? null]));
  const lanes = wire(steps, (key) => counts.get(key) ?? null);
  return (
    <ol className={css.outline} role="tree">
      {steps.map((s, i) => (
        <li key={s.key} role="none">
          <button
            role="treeitem"
            aria-level={s.depth + 1}
            aria-selected={s.key === at}
            className={`step ${s.arm ? css.arm : ''} ${s.off ? css.off : ''} ${s.key === at ? 'on' : ''}`}
            aria-current={s.key === at ? 'step' : undefined}
            onClick={() => onSelect?.(s.key)}
          >
            <Wire
              row={lanes[i]}
              into={i === 0 ? undefined : steps[i - 1].out}
              out={s.out}
              aside={(s.aside ?? 0) + (s.inDoubt ?? 0)}
              isStep={!s.arm}
              isOff={s.off}
              moving={moving}
            />
            {!s.arm && <span className="no num">{s.number}</span>}
            <span className="shrinks" style={besideLane(s.depth)}>
              {s.arm ? (
                <span className={`cut ${css.about}`} title={s.title}>
                  {s.title}
                </span>
              ) : (
                <>
                  <span className="kind">{s.kind}</span> {s.note && <span className={css.note}>{s.note}</span>}
                  {s.off && <span className={css.note}>switched off</span>}
                  <b className="cut" title={s.title}>
                    {s.title}
                  </b>
                </>
              )}
              {s.problem && (
                <span className={`st warn small ${css.wide}`}>
                  <span className="cut" title={s.problem}>
                    {s.problem}
                  </span>
                </span>
              )}
            </span>
            <span className="counts num">
              {s.out != null && <div className={s.arm ? 'soft' : ''}>{count(s.out)}</div>}
              {s.aside ? <div className="st bad">{count(s.aside)} aside</div> : null}
              {s.inDoubt ? <div className="st warn">{count(s.inDoubt)} in doubt</div> : null}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}
