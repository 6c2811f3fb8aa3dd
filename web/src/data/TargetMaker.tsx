import { Button, Segmented } from 'antd';
import { useState } from 'react';
import type { Field as DataField } from '../api/types';
import { Field } from '../common/Field';
import { plural } from '../common/format';
import { Problem } from '../common/ui';
import { FileTarget } from './FileTarget';
import { TableTarget } from './TableTarget';
import { describe, isReady, type TargetWish } from './targetWish';
import { useMakeTarget } from './useMakeTarget';
import css from './TargetMaker.module.css';

interface Props {
  /** Of the results to be written; without them a table has to be there. */
  fields?: DataField[];
  suggestedName?: string;
  onMade: (name: string) => void;
}

/** Makes a target: a delimited file, or a table that is there or is made from fields. What it will do is said. */
export function TargetMaker({ fields, suggestedName, onMade }: Props) {
  const [wish, setWish] = useState<TargetWish>({
    kind: 'csv',
    file: `${suggestedName ?? 'results'}.csv`,
    delimiter: ';',
    replace: false,
    table: '',
  });
  const change = (by: Partial<TargetWish>) => setWish((w) => ({ ...w, ...by }));
  const make = useMakeTarget(fields, onMade);
  return (
    <div className={css.maker}>
      <Field label="What it is">
        <Segmented
          value={wish.kind}
          onChange={(kind) => change({ kind })}
          options={[
            { value: 'csv' as const, label: 'a delimited file' },
            { value: 'sql' as const, label: 'a table' },
          ]}
        />
      </Field>
      {wish.kind === 'sql' ? (
        <TableTarget wish={wish} change={change} canMake={!!fields} />
      ) : (
        <FileTarget wish={wish} change={change} />
      )}
      <div className={`row ${css.deeds}`}>
        <Button
          type="primary"
          disabled={!isReady(wish, !!fields)}
          loading={make.isPending}
          onClick={() => make.mutate(wish)}
        >
          {wish.kind === 'sql' && !wish.exists && fields && wish.table
            ? `Make the table with ${plural(fields.length, 'column')}`
            : 'Make the target'}
        </Button>
        <span className="soft small">{describe(wish)}</span>
      </div>
      {make.isError && <Problem error={make.error} />}
    </div>
  );
}
