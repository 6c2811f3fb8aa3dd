import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, InputNumber } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import type { Api } from '../api/types';
import { plural } from '../common/format';
import { ErrorText, Status } from '../common/ui';

type Days = Api<'Days'>;
const MAX_DAYS = 36_500;
const KEPT: { key: keyof Days; label: string; unit: string; most: number; about: string }[] = [
  {
    key: 'runs',
    label: 'Finished runs',
    unit: 'days',
    most: MAX_DAYS,
    about: 'with their trails; never those with waiting records, nor those that can go on',
  },
  {
    key: 'exchanges',
    label: 'Exchanges of the Bench',
    unit: 'days',
    most: MAX_DAYS,
    about: 'what was sent by hand, and the answers',
  },
  { key: 'exchangesEach', label: 'of each operation', unit: 'the newest', most: 1000, about: 'older ones go' },
  {
    key: 'exchangeKilobytes',
    label: 'the largest',
    unit: 'kB',
    most: 65_536,
    about: 'request and answer together; larger ones are shown once, and not kept',
  },
  {
    key: 'uploads',
    label: 'Uploaded files',
    unit: 'days',
    most: MAX_DAYS,
    about: 'those that no source and no open run reads',
  },
  {
    key: 'received',
    label: 'Files of answers',
    unit: 'days',
    most: MAX_DAYS,
    about: 'under received/, in the folder of files',
  },
  { key: 'audit', label: 'Audit log', unit: 'days', most: MAX_DAYS, about: 'who changed or ran what' },
];

export function Retention() {
  const queries = useQueryClient();
  const kept = useQuery({ queryKey: ['retention'], queryFn: () => api.get<Days>('/settings/retention') });
  const [days, setDays] = useState<Days>();
  const save = useMutation({
    mutationFn: (d: Days) => api.put<Api<'Removed'>>('/settings/retention', d),
    onSuccess: () => queries.invalidateQueries(),
  });
  const shown = days ?? kept.data;
  const r = save.data;
  if (kept.isError) return <ErrorText error={kept.error} />;
  if (!shown) return null;
  return (
    <>
      <p className="soft">What is more or older is removed, once an hour and when these change.</p>
      <table className="grid settings-table">
        <thead>
          <tr>
            <th>what</th>
            <th>at most</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {KEPT.map((k) => (
            <tr key={k.key}>
              <td>{k.label}</td>
              <td>
                <InputNumber
                  size="small"
                  min={1}
                  max={k.most}
                  aria-label={`${k.label}, ${k.unit}`}
                  value={shown[k.key]}
                  onChange={(v) => v && setDays({ ...shown, [k.key]: v })}
                />{' '}
                <span className="soft small">{k.unit}</span>
              </td>
              <td className="soft">{k.about}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="row settings-gap">
        <Button type="primary" disabled={!days} loading={save.isPending} onClick={() => save.mutate(shown)}>
          Keep
        </Button>
        {r && (
          <Status mood="ok">
            removed: {plural(r.runs, 'run')}, {plural(r.exchanges, 'exchange')}, {plural(r.uploads, 'file')},{' '}
            {plural(r.audit, 'entry', 'entries')}
          </Status>
        )}
        {save.isError && <ErrorText error={save.error} />}
      </div>
    </>
  );
}
