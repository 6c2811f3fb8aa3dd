import { useEffect, useState } from 'react';
import type { Flow, FlowCheck, FlowView, RunView, Step } from '../api/types';
import { useEnvironment } from '../app/environment';
import { inWords } from '../common/problems';
import { Empty, Fence } from '../common/ui';
import { AddStep } from './AddStep';
import { recordsAt } from './calls';
import { useDraft } from './draft/useDraft';
import { FlowHead } from './FlowHead';
import { kindOf } from './kinds';
import type { PanelProps } from './kinds/kind';
import { Outline, type OutlineStep } from './Outline';
import type { OutlineRow } from './outlineRows';
import { useFlowCheck, useSpecimen } from './queries';
import { RunBar } from './RunBar';
import { SpecimenSide } from './SpecimenSide';
import { StepDeeds } from './StepDeeds';
import { allSteps, blockKinds, stepOf } from './tree';
import { useDesignerKeys } from './useDesignerKeys';
import { useEdits } from './useEdits';
import { useLook } from './useLook';
import type { Where } from './where';
import css from './Designer.module.css';

/** The outline at left, the selected step's work surface in the middle, the record beside it. */
export function Designer({ view }: { view: FlowView }) {
  const draft = useDraft(view);
  const environment = useEnvironment();
  const look = useLook(draft.flow);
  const [run, setRun] = useState<RunView>();
  const check = useFlowCheck(draft.flow, environment);
  const step = stepOf(draft.flow, look.step);
  const where: Where = {
    flow: view.id,
    definition: draft.flow,
    step: look.step ?? '',
    environment,
    number: look.number,
    part: look.part,
  };
  const specimen = useSpecimen(where);
  const edits = useEdits(draft, look);
  useEffect(() => {
    document.title = draft.name;
  }, [draft.name]);
  useDesignerKeys(draft, look, edits);

  const records = check.data?.records;
  const isSame = run?.flowVersion === draft.version && draft.clean;
  const steps = allSteps(draft.flow.steps);
  const outline = look.rows.map((r) => outlineStep(r, draft.flow, check.data, run));
  return (
    <div className={css.designer}>
      <section className={css.side} aria-label="outline">
        <FlowHead flow={view.id} draft={draft} records={records} />
        <RunBar
          flow={view.id}
          draft={draft}
          total={records}
          number={look.number}
          blocked={check.data?.problems.map(inWords).at(0)}
          onRun={setRun}
          run={run}
        />
        <div className={`scroll ${run && !isSame ? css.stale : ''}`}>
          <Outline steps={outline} at={look.key} onSelect={look.at} moving={run?.state === 'running'} />
          <AddStep
            place={placeWords(look.rows.find((r) => r.key === look.key))}
            hasRead={steps.some((s) => s.kind === 'read' || s.kind === 'receive')}
            isInside={look.rows.some((r) => r.key === look.key && (r.depth > 0 || !!r.arm))}
            add={edits.add}
            wrapIn={step ? (kind) => edits.wrapIn(kind as Step['kind']) : undefined}
            blocks={blockKinds}
          />
        </div>
      </section>
      <section className={css.surface} aria-label="step">
        <Fence key={look.step}>
          {step ? (
            <>
              <ul className={css.warnings} aria-label="what may not be meant">
                {warningsAt(step.id, check.data).map((p) => (
                  <li key={inWords(p)} className="st warn">
                    {inWords(p)}
                  </li>
                ))}
              </ul>
              <Surface
                key={step.id}
                step={step}
                edit={(change) => draft.changeStep(step.id, change)}
                remove={edits.remove}
                where={where}
                specimen={specimen.data}
                setNumber={look.record}
                flowName={draft.name}
                problem={wrongAt(step.id, check.data)}
                add={edits.add}
                goTo={look.at}
              />
              <StepDeeds step={step} edits={edits} />
            </>
          ) : (
            <Empty title="No steps yet">Add a step at the left; the first one reads records.</Empty>
          )}
        </Fence>
      </section>
      <SpecimenSide
        specimen={specimen.data}
        error={specimen.error}
        total={records}
        setNumber={look.record}
        setPart={look.toPart}
        where={where}
      />
    </div>
  );
}

const placeWords = (row: OutlineRow | undefined) =>
  !row ? 'the first step' : row.arm ? `first under “${row.title}”` : `after step ${row.number}`;

/** What is wrong at a step, or may not be meant: the first of it. */
const foundAt = (step: string, check?: FlowCheck) =>
  [...(check?.problems ?? []), ...(check?.warnings ?? [])].find((p) => p.place?.step === step);

/** What is wrong with a step as a whole; its rows show what is wrong with them. */
const wrongAt = (step: string, check?: FlowCheck) =>
  check?.problems.find((p) => p.place?.step === step && !p.place.row)?.text;

/** What works, and may not be meant. */
const warningsAt = (step: string, check?: FlowCheck) => (check?.warnings ?? []).filter((p) => p.place?.step === step);

function Surface(props: PanelProps) {
  const { Panel } = kindOf(props.step);
  return <Panel {...props} />;
}

function outlineStep(row: OutlineRow, flow: Flow, check?: FlowCheck, run?: RunView): OutlineStep {
  const step = stepOf(flow, row.step);
  const ran = run?.steps.find((s) => s.key === row.key);
  const p = row.arm ? undefined : foundAt(row.step, check);
  const isPlain = row.depth === 0 && !row.arm;
  return {
    ...row,
    note: step && !row.arm ? kindOf(step).note?.(step) : undefined,
    out: ran ? ran.passed : isPlain && step ? (recordsAt(flow, step, check?.records ?? undefined) ?? null) : null,
    aside: ran?.waiting,
    inDoubt: ran?.inDoubt,
    problem: p && inWords(p),
  };
}
