import { useMemo, useState } from 'react';
import type { Rule, Step } from '../../api/types';
import { ErrorText } from '../../common/ui';
import type { PanelProps } from '../kinds/kind';
import { withStep } from '../where';
import type { Filling } from './filling';
import { FillTable } from './FillTable';
import { useFill } from './queries';
import { merged } from './values';
import css from './useFilled.module.css';

type Filler = Step & { fill?: Rule[] };

/**
 * What a step fills, with the value that is being typed, and the table it is filled in; that is not there before it is
 * known.
 *
 * @param of the step's filling; the same function as long as it says the same
 * @param key another table for what has other rows
 */
export function useFilled<S extends Filler>(
  { step, edit, where, specimen, setNumber }: Pick<PanelProps<S>, 'step' | 'edit' | 'where' | 'specimen' | 'setNumber'>,
  of: (step: S) => Filling,
  key: string,
) {
  const [draft, setDraft] = useState<Rule>();
  const [opened, setOpened] = useState<string[]>([]);
  const rules = step.fill ?? [];
  const asked: S = { ...step, fill: draft ? merged(rules, draft) : rules };
  const filling = useMemo(() => of(step), [of, step]);
  const fill = useFill(of(asked), { ...withStep(where, asked), opened });
  const f = filling.isReady ? fill.data : undefined;
  const table =
    fill.isError && !f ? (
      <div className={css.inset}>
        <ErrorText error={fill.error} />
      </div>
    ) : (
      f && (
        <FillTable
          key={key}
          fill={f}
          filling={filling}
          setRules={(change) => edit((s) => ({ ...s, fill: change(s.fill ?? []) }))}
          draft={draft}
          setDraft={setDraft}
          specimen={specimen}
          where={where}
          setNumber={setNumber}
          open={(p) => setOpened([...opened, p])}
        />
      )
    );
  return { fill: f, table };
}
