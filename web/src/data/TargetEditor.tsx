import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Segmented } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { Preview, TargetView } from '../api/types';
import { useEnvironment } from '../app/environment';
import { RecordTable } from '../common/RecordTable';
import { useUndo } from '../common/useUndo';
import { ErrorText } from '../common/ui';
import { targetKind, type TargetSettings } from './kinds';
import { TargetMaker } from './TargetMaker';
import css from './TargetEditor.module.css';
import { AboutBox } from '../about';

type Order = 'newest' | 'first';

const previewOf = (environment: string, order: Order) =>
  `environment=${seg(environment)}&limit=100&newest=${order === 'newest'}`;

/** A target and what is in it now. */
export function TargetEditor({ target }: { target?: TargetView }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const environment = useEnvironment();
  const undo = useUndo();
  const [order, setOrder] = useState<Order>('newest');
  const preview = useQuery({
    queryKey: ['target-preview', target?.name, environment, order],
    enabled: !!target,
    retry: false,
    queryFn: () => api.get<Preview>(`/data/targets/${seg(target!.name)}/preview?${previewOf(environment, order)}`),
  });
  const remove = useMutation({
    mutationFn: () => api.delete(`/data/targets/${seg(target!.name)}`),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go('/data');
      undo(`Removed ${target!.name}. What it wrote stays.`, async () => {
        await api.put(`/data/targets/${seg(target!.name)}`, { kind: target!.kind, settings: target!.settings });
        await queries.invalidateQueries();
      });
    },
  });
  const settings = useMutation({
    mutationFn: (by: TargetSettings) =>
      api.put(`/data/targets/${seg(target!.name)}`, { kind: target!.kind, settings: { ...target!.settings, ...by } }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['targets'] }),
  });
  if (!target)
    return (
      <div className={css.inset}>
        <h1>New target</h1>
        <TargetMaker onMade={(n) => void go(`/data/targets/${seg(n)}`)} />
      </div>
    );
  const { About } = targetKind(target.kind);
  return (
    <div className={css.frame}>
      <div className={`row ${css.bar}`}>
        <h1>{target.name}</h1>
        <About target={target} set={(by) => settings.mutate(by)} isThere={!!preview.data && !preview.data.problem} />
        <Button type="text" className="push" onClick={() => remove.mutate()}>
          Remove
        </Button>
      </div>
      <div className={css.inset2}>
        <AboutBox kind="target" name={target.name} />
        {preview.isError && <ErrorText error={preview.error} />}
        {settings.isError && <ErrorText error={settings.error} />}
        {preview.data?.problem && <span className="soft">{preview.data.problem}</span>}
        {preview.data && !preview.data.problem && preview.data.records.length === 0 && (
          <span className="soft">It is empty.</span>
        )}
        {preview.data && preview.data.records.length > 0 && (
          <div className={`row ${css.order}`}>
            <Segmented<Order>
              size="small"
              aria-label="which rows are shown"
              value={order}
              onChange={setOrder}
              options={[
                { value: 'newest', label: 'Newest rows' },
                { value: 'first', label: 'First rows' },
              ]}
            />
            <span className="soft small">
              {preview.data.more ? `${preview.data.records.length} of them` : 'all there are'}
            </span>
          </div>
        )}
      </div>
      <div className="scroll">
        {preview.data && preview.data.fields.length > 0 && (
          <RecordTable fields={preview.data.fields} records={preview.data.records} numbers={preview.data.numbers} />
        )}
      </div>
    </div>
  );
}
