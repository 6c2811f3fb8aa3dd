import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { FlowView, RunView, Tray, Waiting } from '../api/types';
import { count, plural } from '../common/format';
import { Empty, ErrorText, Status } from '../common/ui';
import { failing } from './failing';
import css from './TrayGrid.module.css';
import { wide } from '../common/place';

/** The records that wait: by reason, their values mended in place, and sent again. */
export function TrayGrid({
  run,
  step,
  record,
  onTrail,
}: {
  run: RunView;
  step?: number;
  record?: number;
  onTrail: (n: number) => void;
}) {
  const queries = useQueryClient();
  const [code, setCode] = useState<string>();
  const [callAgain, setCallAgain] = useState(false);
  const [chosen, setChosen] = useState<Set<number>>(new Set());
  const tray = useQuery({
    queryKey: ['tray', run.id, code, run.setAside, run.inDoubt],
    placeholderData: keepPreviousData,
    queryFn: () => api.get<Tray>(`/runs/${run.id}/aside${code ? `?code=${seg(code)}` : ''}`),
  });
  const again = useMutation({
    mutationFn: (numbers: number[]) => api.post(`/runs/${run.id}/again`, { numbers, callAgain }),
    onSuccess: () => {
      setChosen(new Set());
      setCode(undefined);
      void queries.invalidateQueries({ queryKey: ['run', run.id] });
    },
  });
  const flow = useQuery({
    queryKey: ['flow', run.flow],
    enabled: run.flow != null,
    retry: false,
    staleTime: Infinity,
    queryFn: () => api.get<FlowView>(`/flows/${run.flow}`),
  });
  const records = (tray.data?.records ?? []).filter((r) => step === undefined || r.step === step);
  const reasons = (tray.data?.reasons ?? []).filter((r) => step === undefined || r.step === step);
  if (tray.data && tray.data.reasons.length === 0) {
    return (
      <Empty title={run.state === 'running' ? 'No record waits so far' : 'No record waits'}>
        {run.state === 'running'
          ? 'Records that fail are set aside here with their reason.'
          : `All ${count(run.read)} records went through. Find one by any value to see its trail.`}
      </Empty>
    );
  }
  const named = new Set(records.flatMap((r) => Object.keys(r.record)));
  const first = failing(
    flow.data,
    reasons.map((r) => r.code),
  ).filter((f) => named.has(f));
  const fields = [...new Set([...first, ...named])];
  const mended = records.filter((r) => r.original && !r.inDoubt).map((r) => r.number);
  const toSend = chosen.size ? [...chosen] : mended;
  const answered = records.filter((r) => toSend.includes(r.number)).reduce((n, r) => n + r.answered, 0);
  const send = () => {
    if (toSend.length && run.state === 'finished') again.mutate(toSend);
  };
  const toggle = (n: number) =>
    setChosen((c) => {
      const next = new Set(c);
      if (!next.delete(n)) next.add(n);
      return next;
    });
  return (
    <div
      className={css.frame}
      role="group"
      aria-label="waiting records"
      onKeyDown={(e) => {
        if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
          e.preventDefault();
          (document.activeElement as HTMLElement).blur();
          setTimeout(send, 250);
        }
      }}
    >
      <div className={`row wrap ${css.bar}`}>
        <h2>waiting {count(reasons.reduce((n, r) => n + r.count, 0))}</h2>
        {reasons.map((r) => (
          <button
            key={`${r.code}/${r.step}`}
            className={`reason ${code === r.code ? 'on' : ''}`}
            onClick={() => setCode(code === r.code ? undefined : r.code)}
          >
            {r.inDoubt ? 'in doubt: ' : ''}
            {r.code} · <span className="num">{count(r.count)}</span>
          </button>
        ))}
        <span className="push row">
          <span className="soft small">
            {run.state !== 'finished'
              ? 'resume the run first'
              : chosen.size || mended.length
                ? ''
                : 'edit values, or choose records'}
          </span>
          {answered > 0 && (
            <Checkbox
              checked={callAgain}
              onChange={(e) => setCallAgain(e.target.checked)}
              title="Otherwise the answer that is known is used"
            >
              <span className="small">make {plural(answered, 'answered call')} again</span>
            </Checkbox>
          )}
          <Button
            type="primary"
            size="small"
            disabled={toSend.length === 0 || run.state !== 'finished'}
            loading={again.isPending}
            onClick={send}
          >
            Send {toSend.length ? plural(toSend.length, 'record') : ''} again <span className={css.text}>Ctrl ⏎</span>
          </Button>
        </span>
      </div>
      <div className="scroll">
        {again.isError && <ErrorText error={again.error} />}
        <table className="grid">
          <thead>
            <tr>
              <th className={css.cell}>
                <Checkbox
                  aria-label="choose all"
                  checked={chosen.size > 0 && chosen.size === records.length}
                  indeterminate={chosen.size > 0 && chosen.size < records.length}
                  onChange={(e) => setChosen(new Set(e.target.checked ? records.map((r) => r.number) : []))}
                />
              </th>
              <th className="n">#</th>
              <th>reason</th>
              {fields.map((f) => (
                <th key={f} className="mono">
                  {f}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {records.map((r) => (
              <Row
                key={r.number}
                run={run.id}
                row={r}
                fields={fields}
                chosen={chosen.has(r.number)}
                toggle={() => toggle(r.number)}
                on={record === r.number}
                trail={() => onTrail(r.number)}
              />
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

function Row({
  run,
  row: r,
  fields,
  chosen,
  toggle,
  on,
  trail,
}: {
  run: number;
  row: Waiting;
  fields: string[];
  chosen: boolean;
  toggle: () => void;
  on: boolean;
  trail: () => void;
}) {
  return (
    <tr className={on ? 'on' : ''}>
      <td>
        <Checkbox aria-label={`choose record ${r.number}`} checked={chosen} onChange={toggle} />
      </td>
      <td className="n">
        <button className="link num" title="show its trail" onClick={trail}>
          {r.number}
        </button>
      </td>
      <td className={css.cell2}>
        <div className="cut soft" title={r.reason}>
          {r.inDoubt && <Status mood="warn">in doubt </Status>} {r.reason}
        </div>
      </td>
      {fields.map((f) => (
        <Cell key={f} run={run} row={r} field={f} />
      ))}
    </tr>
  );
}

function Cell({ run, row, field }: { run: number; row: Waiting; field: string }) {
  const queries = useQueryClient();
  const value = row.record[field] ?? '';
  const was = row.original?.[field];
  const [text, setText] = useState<string>();
  const mend = useMutation({
    mutationFn: (v: string) => api.put<Waiting>(`/runs/${run}/aside/${row.number}`, { [field]: v }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['tray', run] }),
  });
  const end = () => {
    if (text !== undefined && text !== value) mend.mutate(text);
    setText(undefined);
  };
  const changed = was !== undefined && was !== value;
  return (
    <td className={css.cell3}>
      <Input
        size="small"
        className={`mono ${css.value} ${changed ? css.changed : ''}`}
        variant={changed || text !== undefined ? 'outlined' : 'borderless'}
        aria-label={`${field} of record ${row.number}`}
        style={wide(Math.max(84, Math.min(190, (text ?? value).length * 8 + 14)))}
        status={mend.isError ? 'error' : undefined}
        placeholder="blank"
        value={text ?? value}
        onChange={(e) => setText(e.target.value)}
        onBlur={end}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && !e.ctrlKey) (e.target as HTMLInputElement).blur();
          if (e.key === 'Escape') setText(undefined);
        }}
      />
      {changed && <span className={`faint small ${css.text2}`}>{was || 'blank'}</span>}
    </td>
  );
}
