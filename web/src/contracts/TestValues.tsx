import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Popover } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api, Rule } from '../api/types';
import { when } from '../common/format';
import { ErrorText } from '../common/ui';
import css from './TestValues.module.css';

export type TestValues = Api<'TestValues'>;
const pathOf = (contract: string, operation: string) =>
  `/contracts/${seg(contract)}/operations/${seg(operation)}/values`;

/** The named sets of values of an operation, the same for everybody. */
export const useTestValues = (contract?: string, operation?: string) =>
  useQuery({
    queryKey: ['test-values', contract, operation],
    enabled: !!contract && !!operation,
    queryFn: () => api.get<TestValues[]>(pathOf(contract ?? '', operation ?? '')),
  });

interface Props {
  contract: string;
  operation: string;
  rules: Rule[];
  take: (rules: Rule[]) => void;
}

/** Sets of values to try an operation with: taken with a click, kept under a name. */
export function TestValuesMenu({ contract, operation, rules, take }: Props) {
  const queries = useQueryClient();
  const [isOpen, setOpen] = useState(false);
  const [name, setName] = useState('');
  const sets = useTestValues(contract, operation);
  const path = pathOf(contract, operation);
  const onSuccess = () => queries.invalidateQueries({ queryKey: ['test-values', contract, operation] });
  const keep = useMutation({
    mutationFn: (as: string) => api.put(`${path}/${seg(as)}`, { rules }),
    onSuccess: () => {
      setName('');
      return onSuccess();
    },
  });
  const remove = useMutation({ mutationFn: (of: string) => api.delete(`${path}/${seg(of)}`), onSuccess });
  const n = sets.data?.length ?? 0;
  const items = (
    <div className={css.body}>
      <div className={`scroll ${css.sets}`}>
        {sets.data?.map((s) => (
          <div key={s.name} className={css.set}>
            <button
              className={`item ${css.take}`}
              onClick={() => {
                setOpen(false);
                take(s.rules);
              }}
            >
              <span className="cut">{s.name}</span>
              <span className="faint small nowrap">
                {s.changedBy}, {when(s.changedAt)}
              </span>
            </button>
            <button
              className="link faint small"
              title="Keep what is typed now instead"
              onClick={() => keep.mutate(s.name)}
            >
              keep over
            </button>
            <button className="link faint small" aria-label={`without ${s.name}`} onClick={() => remove.mutate(s.name)}>
              −
            </button>
          </div>
        ))}
      </div>
      <div className="row">
        <Input
          size="small"
          aria-label="name of the values"
          placeholder="keep what is typed as …"
          value={name}
          onChange={(e) => setName(e.target.value)}
          onPressEnter={() => name.trim() && keep.mutate(name.trim())}
        />
        <Button size="small" disabled={!name.trim()} loading={keep.isPending} onClick={() => keep.mutate(name.trim())}>
          Keep
        </Button>
      </div>
      {(keep.isError || remove.isError) && <ErrorText error={keep.error ?? remove.error} />}
    </div>
  );
  return (
    <Popover trigger="click" placement="bottomRight" open={isOpen} onOpenChange={setOpen} content={items}>
      <button className="link soft nowrap" title="Named values to try it with, shared by the project">
        values{n ? <span className="num"> {n}</span> : null}
      </button>
    </Popover>
  );
}
