import { useQuery } from '@tanstack/react-query';
import { Button, Select } from 'antd';
import { Link, useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { Preview, SourceView, StepOf } from '../api/types';
import { RecordTable } from '../common/RecordTable';
import { Problem } from '../common/ui';
import { PanelHead } from './PanelHead';

export function ReadPanel({
  step,
  set,
  remove,
  environment,
  number,
  setNumber,
}: {
  step: StepOf<'read'>;
  set: (s: StepOf<'read'>) => void;
  remove: () => void;
  environment: string;
  number: number;
  setNumber: (n: number) => void;
}) {
  const go = useNavigate();
  const sources = useQuery({ queryKey: ['sources'], queryFn: () => api.get<SourceView[]>('/data/sources') });
  const preview = useQuery({
    queryKey: ['source-preview', step.source, environment],
    enabled: !!step.source,
    retry: false,
    queryFn: () =>
      api.get<Preview>(`/data/sources/${seg(step.source!)}/preview?environment=${seg(environment)}&limit=200`),
  });
  return (
    <div style={{ display: 'grid', gridTemplateRows: 'auto auto minmax(0, 1fr)', minHeight: 0 }}>
      <PanelHead title="Read" remove={remove}>
        <Select
          aria-label="source"
          style={{ width: 240 }}
          placeholder="choose a source"
          value={step.source}
          onChange={(v) => set({ ...step, source: v })}
          options={sources.data?.map((s) => ({ value: s.name, label: s.name }))}
        />
        {step.source ? (
          <Link className="soft" to={`/data/sources/${seg(step.source)}`}>
            open it
          </Link>
        ) : (
          <Button onClick={() => void go('/data/sources/new')}>Add a source</Button>
        )}
      </PanelHead>
      <div style={{ padding: '0 18px 8px' }} className="soft small">
        {preview.isError && <Problem error={preview.error} />}
        {preview.data?.problem && <span className="st bad">{preview.data.problem}</span>}
        {preview.data &&
          !preview.data.problem &&
          'Click a record to make it the specimen: every value on the other steps is computed from it.'}
        {sources.data?.length === 0 && 'There is no source yet.'}
      </div>
      <div
        className="scroll"
        onClick={(e) => {
          const row = (e.target as HTMLElement).closest('tbody tr') as HTMLTableRowElement | null;
          if (row) setNumber(row.sectionRowIndex + 1);
        }}
      >
        {preview.data && preview.data.fields.length > 0 && (
          <>
            <style>{`.specimen-row tbody tr:nth-child(${number}) td { background: var(--copper-soft) } .specimen-row tbody tr { cursor: pointer }`}</style>
            <div className="specimen-row">
              <RecordTable fields={preview.data.fields} records={preview.data.records} />
            </div>
          </>
        )}
      </div>
    </div>
  );
}
