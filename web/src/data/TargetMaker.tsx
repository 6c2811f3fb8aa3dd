import { Button, Segmented } from 'antd';
import { useCallback, useState } from 'react';
import type { Field as DataField } from '../api/types';
import { Field } from '../common/Field';
import { ErrorText, Status } from '../common/ui';
import { TARGETS, type TargetWish } from './kinds';
import { useMakeTarget } from './useMakeTarget';
import css from './TargetMaker.module.css';

interface Props {
  /** Of the results to be written; without them a table has to be there. */
  fields?: DataField[];
  /** Makes a column of each value, where fields have others inside. */
  flatten?: () => void;
  suggestedName?: string;
  onMade: (name: string) => void;
}

/** Makes a target: a file, or a table that is there or is made from fields. What it will do is said. */
export function TargetMaker({ fields, flatten, suggestedName, onMade }: Props) {
  const [kind, setKind] = useState(TARGETS[0]);
  const [wish, setWish] = useState<TargetWish>({
    file: `${suggestedName ?? 'results'}.csv`,
    delimiter: ';',
    replace: false,
    table: '',
  });
  const change = useCallback((by: Partial<TargetWish>) => setWish((w) => ({ ...w, ...by })), []);
  const make = useMakeTarget(kind, fields, onMade);
  const inside = kind.isFlat ? (fields ?? []).filter((f) => !!f.fields || f.many) : [];
  return (
    <div className={css.maker}>
      <Field label="What it is">
        <Segmented
          value={kind.kind}
          onChange={(chosen) => {
            const to = TARGETS.find((k) => k.kind === chosen) ?? kind;
            setKind(to);
            change(to.chosen?.(wish) ?? {});
          }}
          options={TARGETS.map((k) => ({ value: k.kind, label: k.label }))}
        />
      </Field>
      <kind.Maker wish={wish} change={change} hasFields={!!fields} fields={fields} />
      {inside.length > 0 && (
        <div className={css.deeds}>
          <Status mood="warn">
            {inside.map((f) => f.label).join(', ')} {inside.length === 1 ? 'is' : 'are'} more than one value
          </Status>{' '}
          <span className="soft small">
            JSON and XML keep what is inside;{' '}
            {flatten && (
              <button className="link" onClick={flatten}>
                take each value as a column
              </button>
            )}
          </span>
        </div>
      )}
      <div className={`row ${css.deeds}`}>
        <Button
          type="primary"
          disabled={!kind.isReady(wish, !!fields) || inside.length > 0}
          loading={make.isPending}
          onClick={() => make.mutate(wish)}
        >
          {kind.making?.(wish, fields) ?? 'Make the target'}
        </Button>
        <span className="soft small">{kind.describe(wish)}</span>
      </div>
      {make.isError && <ErrorText error={make.error} />}
    </div>
  );
}
