import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Dropdown, Input } from 'antd';
import { useEffect, useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import { api } from '../api/client';
import type { FlowCheck, FlowView, RunView, Specimen, Step } from '../api/types';
import { useEnvironment } from '../app/environment';
import { count } from '../common/format';
import { Fence, Problem } from '../common/ui';
import { CallPanel } from './CallPanel';
import { CheckPanel } from './CheckPanel';
import { useDraft, type Draft } from './draft';
import { Outline, type OutlineStep } from './Outline';
import { PickPanel } from './PickPanel';
import { ReadPanel } from './ReadPanel';
import { RunBar } from './RunBar';
import { SpecimenSide } from './SpecimenSide';
import { WritePanel } from './WritePanel';

export function FlowPage() {
  const { id } = useParams();
  const flow = useQuery({
    queryKey: ['flow', Number(id)],
    queryFn: () => api.get<FlowView>(`/flows/${id}`),
    staleTime: Infinity,
  });
  if (flow.isPending) return null;
  if (flow.isError)
    return (
      <div className="page">
        <Problem error={flow.error} />
      </div>
    );
  return <Designer key={id} view={flow.data} />;
}

const NEW: Record<Step['kind'], Step> = {
  read: { kind: 'read' },
  check: { kind: 'check' },
  call: { kind: 'call', fill: [] },
  pick: { kind: 'pick', columns: [] },
  write: { kind: 'write' },
};
const ABOUT: Record<Step['kind'], string> = {
  read: 'records from a source',
  check: 'set a record aside unless a condition holds',
  call: 'an operation for each record',
  pick: 'result records out of the answer',
  write: 'results to a target',
};

export function titleOf(s: Step): string {
  switch (s.kind) {
    case 'read':
      return s.source ?? 'choose a source';
    case 'check':
      return s.message || s.condition || 'write a condition';
    case 'call':
      return s.operation ? `${s.contract} · ${s.operation}` : 'choose an operation';
    case 'pick':
      return s.columns.length === 0
        ? 'choose what a result is'
        : s.each
          ? `each ${s.each.replace(/^\$reply\//, '')}`
          : 'the whole answer';
    case 'write':
      return s.target ?? 'choose a target';
  }
}

function Designer({ view }: { view: FlowView }) {
  const draft = useDraft(view);
  const environment = useEnvironment();
  const [search, setSearch] = useSearchParams();
  const steps = draft.flow.steps;
  const firstOpen = steps.findIndex(
    (s) =>
      (s.kind === 'read' && !s.source) ||
      (s.kind === 'call' && !s.operation) ||
      (s.kind === 'pick' && !s.columns.length) ||
      (s.kind === 'write' && !s.target),
  );
  const at = Math.min(
    Number(
      search.get('step') ??
        (firstOpen >= 0
          ? firstOpen
          : Math.max(
              0,
              steps.findIndex((s) => s.kind === 'call'),
            )) + (search.get('step') ? 0 : 1),
    ) - 1,
    steps.length - 1,
  );
  const number = Math.max(1, Number(search.get('record') ?? 1));
  const select = (i: number) =>
    setSearch(
      (p) => {
        p.set('step', String(i + 1));
        return p;
      },
      { replace: true },
    );
  const setNumber = (n: number) =>
    setSearch(
      (p) => {
        p.set('record', String(Math.max(1, n)));
        if (!p.get('step')) p.set('step', String(at + 1));
        return p;
      },
      { replace: true },
    );
  const [run, setRun] = useState<RunView>();
  const source = steps[0]?.kind === 'read' ? steps[0].source : undefined;
  const check = useQuery({
    queryKey: ['flow-check', draft.flow, environment, 'targets'],
    queryFn: ({ signal }) => api.post<FlowCheck>(`/flows/check?environment=${environment}`, draft.flow, signal),
    placeholderData: keepPreviousData,
  });
  const where = { flow: view.id, definition: draft.flow, step: at, environment, number };
  const specimen = useQuery({
    queryKey: ['specimen', source, environment, number],
    enabled: !!source,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<Specimen>('/design/specimen', where, signal),
  });
  useEffect(() => {
    document.title = draft.name;
  }, [draft.name]);
  useKeys(draft, steps.length, at, select, number, setNumber);

  const records = check.data?.records;
  const outline: OutlineStep[] = steps.map((s, i) => {
    const ran = run?.steps[i];
    const p = check.data?.problems.find((x) => x.step === i);
    return {
      kind: s.kind,
      title: titleOf(s),
      out: ran ? ran.out : (records ?? null),
      aside: ran?.waiting,
      inDoubt: ran?.inDoubt,
      problem: p ? (p.text ?? `${p.row.path.split('/').pop()} ${p.row.text}`) : undefined,
    };
  });
  const step = steps[at];
  const set = (s: Step) => draft.setStep(at, s);
  const remove = () => {
    draft.change({ steps: steps.filter((_, i) => i !== at) });
    select(Math.max(0, at - 1));
  };
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '286px minmax(0, 1fr) 252px', minHeight: 0 }}>
      <section
        style={{
          borderRight: '1px solid var(--line)',
          display: 'grid',
          gridTemplateRows: 'auto auto minmax(0, 1fr)',
          minHeight: 0,
        }}
      >
        <div style={{ padding: '10px 16px 6px' }}>
          <Input
            aria-label="flow name"
            variant="borderless"
            style={{ fontSize: 17, fontWeight: 600, padding: 0 }}
            value={draft.name}
            onChange={(e) => draft.rename(e.target.value)}
          />
          <div className="soft small">
            <SavedState draft={draft} />
          </div>
          <Estimate steps={steps} records={records} />
        </div>
        <RunBar
          flow={view.id}
          draft={draft}
          total={records}
          number={number}
          blocked={check.data?.problems.length ? outline.find((o) => o.problem)?.problem : undefined}
          onRun={setRun}
          run={run}
        />
        <div className="scroll">
          <Outline steps={outline} at={at} onSelect={select} moving={run?.state === 'running'} />
          <div style={{ padding: '10px 14px 14px 62px' }}>
            <Dropdown
              trigger={['click']}
              menu={{
                items: (Object.keys(NEW) as Step['kind'][]).map((k) => ({
                  key: k,
                  label: (
                    <>
                      <b>{k}</b> <span className="soft">{ABOUT[k]}</span>
                    </>
                  ),
                  onClick: () => {
                    const next = [...steps];
                    const place = steps.length ? at + 1 : 0;
                    next.splice(place, 0, NEW[k]);
                    draft.change({ steps: next });
                    select(place);
                  },
                })),
              }}
            >
              <button className="link soft" id="add-step">
                add a step <kbd>a</kbd>
              </button>
            </Dropdown>
          </div>
        </div>
      </section>
      <section style={{ background: 'var(--panel)', minHeight: 0, minWidth: 0, display: 'grid' }}>
        <Fence key={at}>
          {!step ? (
            <div className="empty">
              <h1>No steps yet</h1>Add a step at the left; the first one reads records.
            </div>
          ) : step.kind === 'read' ? (
            <ReadPanel
              step={step}
              set={set}
              remove={remove}
              number={number}
              setNumber={setNumber}
              environment={environment}
            />
          ) : step.kind === 'call' ? (
            <CallPanel key={at} step={step} set={set} remove={remove} where={where} specimen={specimen.data} />
          ) : step.kind === 'pick' ? (
            <PickPanel
              step={step}
              set={set}
              remove={remove}
              where={where}
              specimen={specimen.data}
              goToCall={() => select(steps.findLastIndex((s, i) => s.kind === 'call' && i < at))}
            />
          ) : step.kind === 'check' ? (
            <CheckPanel step={step} set={set} remove={remove} where={where} />
          ) : (
            <WritePanel
              step={step}
              set={set}
              remove={remove}
              where={where}
              flowName={draft.name}
              problem={check.data?.problems.find((p) => p.step === at && p.text)?.text}
            />
          )}
        </Fence>
      </section>
      <SpecimenSide
        specimen={specimen.data}
        error={specimen.error}
        number={number}
        total={records}
        setNumber={setNumber}
        where={where}
      />
    </div>
  );
}

function SavedState({ draft }: { draft: Draft }) {
  if (draft.conflict)
    return (
      <>
        changed elsewhere;{' '}
        <button className="link" onClick={() => void draft.reload()}>
          load that version
        </button>
      </>
    );
  if (draft.error) return <span className="st bad">not saved: {draft.error.message}</span>;
  return (
    <span className="num">
      v{draft.version} · {draft.clean ? 'all changes saved' : 'saving'}
      {draft.canUndo && (
        <>
          {' '}
          ·{' '}
          <button className="link soft" onClick={draft.undo}>
            undo
          </button>
        </>
      )}
      {draft.canRedo && (
        <>
          {' '}
          ·{' '}
          <button className="link soft" onClick={draft.redo}>
            redo
          </button>
        </>
      )}
    </span>
  );
}

function Estimate({ steps, records }: { steps: Step[]; records?: number | null }) {
  const calls = steps.filter((s) => s.kind === 'call' && s.operation).length;
  if (records == null) return null;
  return (
    <div className="soft small num">
      {count(records)} records → {calls ? `${count(records * calls)} calls` : 'no calls'} for a run on all
    </div>
  );
}

function useKeys(
  draft: Draft,
  steps: number,
  at: number,
  select: (i: number) => void,
  number: number,
  setNumber: (n: number) => void,
) {
  useEffect(() => {
    const key = (e: KeyboardEvent) => {
      const typing = (e.target as HTMLElement).closest('input, textarea, [contenteditable]');
      if ((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z' && !typing) {
        e.preventDefault();
        if (e.shiftKey) draft.redo();
        else draft.undo();
        return;
      }
      if (typing || e.ctrlKey || e.metaKey || e.altKey) return;
      if (e.key === 'a') {
        e.preventDefault();
        document.getElementById('add-step')?.click();
      }
      if (e.key === 'j') select(Math.min(steps - 1, at + 1));
      if (e.key === 'k') select(Math.max(0, at - 1));
      if (e.key === '[') setNumber(number - 1);
      if (e.key === ']') setNumber(number + 1);
    };
    addEventListener('keydown', key);
    return () => removeEventListener('keydown', key);
  }, [draft, steps, at, select, number, setNumber]);
}
