import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Input } from 'antd';
import { api } from '../api/client';
import type { Api, StepOf } from '../api/types';
import { PanelHead } from './PanelHead';
import type { Where } from './where';

export function CheckPanel({
  step,
  set,
  remove,
  where,
}: {
  step: StepOf<'check'>;
  set: (s: StepOf<'check'>) => void;
  remove: () => void;
  where: Where;
}) {
  const value = useQuery({
    queryKey: ['evaluate', step.condition, where.number, where.environment],
    enabled: !!step.condition,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => api.post<Api<'Evaluated'>>('/design/xpath', { at: where, xpath: step.condition }, signal),
  });
  const v = value.data;
  return (
    <div>
      <PanelHead title="Check" remove={remove} />
      <div style={{ padding: '0 18px', maxWidth: 620 }}>
        <label className="field-label" htmlFor="condition">
          A record goes on if this XPath holds; otherwise it is set aside
        </label>
        <Input
          id="condition"
          className="mono"
          placeholder="draft_m != '' and port = 'TLWRC'"
          value={step.condition ?? ''}
          onChange={(e) => set({ ...step, condition: e.target.value })}
          status={v?.problem ? 'error' : undefined}
        />
        <div className="small" style={{ minHeight: 20 }}>
          {v?.problem ? (
            <span style={{ color: 'var(--madder)' }}>{v.problem}</span>
          ) : (
            v && <span className="soft">for the specimen: {v.value ?? 'nothing'}</span>
          )}
        </div>
        <label className="field-label" htmlFor="reason">
          The reason given
        </label>
        <Input
          id="reason"
          placeholder="the draught is missing"
          value={step.message ?? ''}
          onChange={(e) => set({ ...step, message: e.target.value })}
        />
      </div>
    </div>
  );
}
