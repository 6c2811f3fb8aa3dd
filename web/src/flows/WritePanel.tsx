import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Select } from 'antd';
import { Link } from 'react-router';
import { api, seg } from '../api/client';
import type { Field, StepOf, TargetView } from '../api/types';
import { TargetMaker } from '../data';
import { plural } from '../common/format';
import { Problem, Status } from '../common/ui';
import { PanelHead } from './PanelHead';
import type { Where } from './where';

export function WritePanel({
  step,
  set,
  remove,
  where,
  flowName,
  problem,
}: {
  step: StepOf<'write'>;
  set: (s: StepOf<'write'>) => void;
  remove: () => void;
  where: Where;
  flowName: string;
  problem?: string;
}) {
  const targets = useQuery({ queryKey: ['targets'], queryFn: () => api.get<TargetView[]>('/data/targets') });
  const columns = useQuery({
    queryKey: ['target-columns', step.target, where.environment],
    enabled: !!step.target,
    retry: false,
    queryFn: () => api.get<Field[]>(`/data/targets/${seg(step.target!)}/columns?environment=${seg(where.environment)}`),
  });
  const pick = where.definition.steps.findLast((s, i) => s.kind === 'pick' && i < where.step) as
    StepOf<'pick'> | undefined;
  const fields: Field[] = (pick?.columns ?? []).map(
    (c) => ({ name: c.name, label: c.name, type: c.type ?? 'string' }) as Field,
  );
  const target = targets.data?.find((t) => t.name === step.target);
  const rows = columns.data ?? [];
  const lost = fields.filter((f) => rows.length > 0 && !rows.some((c) => c.label === f.label));
  return (
    <div className="scroll">
      <PanelHead title="Write" remove={remove}>
        <Select
          aria-label="target"
          style={{ width: 240 }}
          placeholder="choose a target"
          value={step.target}
          allowClear
          onChange={(v) => set({ ...step, target: v })}
          options={targets.data?.map((t) => ({ value: t.name, label: t.name }))}
        />
        {target && (
          <span className="soft cut">
            {target.kind === 'sql' ? (
              <>
                table <span className="mono">{target.settings.table}</span>
              </>
            ) : (
              <>
                file <span className="mono">{target.settings.file}</span>,{' '}
                {target.settings.replace ? 'replaced at the end of a run' : 'added to'}
              </>
            )}{' '}
            <Link to={`/data/targets/${seg(target.name)}`}>open it</Link>
          </span>
        )}
      </PanelHead>
      {columns.isError && (
        <div style={{ padding: '0 18px' }}>
          <Problem error={columns.error} />
        </div>
      )}
      {problem && target?.kind === 'csv' && <HeaderMismatch target={target} problem={problem} />}
      {step.target && (
        <>
          {lost.length > 0 && (
            <div style={{ padding: '0 18px 8px' }}>
              <Status mood="warn">
                {lost.map((f) => f.label).join(', ')} {lost.length === 1 ? 'has' : 'have'} no column in the target and{' '}
                {lost.length === 1 ? 'is' : 'are'} not written
              </Status>
            </div>
          )}
          {rows.length > 0 ? (
            <table className="grid">
              <thead>
                <tr>
                  <th>column of the target</th>
                  <th>type</th>
                  <th>gets</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((c) => {
                  const f = fields.find((x) => x.label === c.label);
                  return (
                    <tr key={c.name}>
                      <td className="mono">{c.label}</td>
                      <td className="soft">
                        {c.type === 'string' ? 'text' : c.type}
                        {c.required ? ', required' : ''}
                      </td>
                      <td>
                        {f ? (
                          <Status mood="ok">
                            <span className="mono">{f.label}</span>
                          </Status>
                        ) : fields.length === 0 ? (
                          <span className="faint">by name</span>
                        ) : c.required ? (
                          <Status mood="bad">nothing, but it is required</Status>
                        ) : (
                          <span className="faint">nothing</span>
                        )}
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          ) : (
            columns.isSuccess && (
              <p className="soft" style={{ padding: '0 18px' }}>
                The file takes the pick’s columns as they are:{' '}
                <span className="mono">{fields.map((f) => f.label).join(', ')}</span>.
              </p>
            )
          )}
        </>
      )}
      {!step.target && (
        <div style={{ padding: '4px 18px' }}>
          <h2>Make the target from this</h2>
          {fields.length === 0 ? (
            <p className="soft">Pick fields first; the target is then made from them.</p>
          ) : (
            <>
              <p className="soft">
                {plural(fields.length, 'column')}: <span className="mono">{fields.map((f) => f.label).join(', ')}</span>
              </p>
              <TargetMaker
                fields={fields}
                suggestedName={flowName.toLowerCase().replace(/[^\p{L}\p{N}]+/gu, '_')}
                onMade={(n) => set({ ...step, target: n })}
              />
            </>
          )}
        </div>
      )}
    </div>
  );
}

/** The file that is to be added to has other columns: its own are taken, or another file is written. */
function HeaderMismatch({ target, problem }: { target: TargetView; problem: string }) {
  const queries = useQueryClient();
  const done = { onSuccess: () => queries.invalidateQueries() };
  const match = useMutation({ mutationFn: () => api.post(`/data/targets/${seg(target.name)}/match`), ...done });
  const file = String(target.settings.file).replace(
    /(?:-(\d+))?(\.\w+)?$/,
    (_, n: string | undefined, end: string | undefined) => `-${Number(n ?? 1) + 1}${end ?? ''}`,
  );
  const other = useMutation({
    mutationFn: () =>
      api.put(`/data/targets/${seg(target.name)}`, {
        kind: 'csv',
        settings: { ...target.settings, file, columns: undefined },
      }),
    ...done,
  });
  return (
    <div className="notice warn" style={{ margin: '0 18px 10px' }} role="alert">
      {problem}
      <div className="row" style={{ marginTop: 8 }}>
        <Button size="small" loading={match.isPending} onClick={() => match.mutate()}>
          Match by name
        </Button>
        <Button size="small" loading={other.isPending} onClick={() => other.mutate()}>
          Write to {file}
        </Button>
      </div>
      {(match.error ?? other.error) && <Problem error={match.error ?? other.error} />}
    </div>
  );
}
