import { inWords } from '../common/problems';
import { useEffect, useState } from 'react';
import type { FlowCheck, FlowView, RunView, Step } from '../api/types';
import { useEnvironment } from '../app/environment';
import { Empty, Fence } from '../common/ui';
import { AddStep } from './AddStep';
import { useDraft } from './draft/useDraft';
import { addStep, removeStep } from './edits';
import { FlowHead } from './FlowHead';
import { kindOf } from './kinds';
import type { PanelProps } from './kinds/kind';
import { Outline, type OutlineStep } from './Outline';
import { useFlowCheck, useSpecimen } from './queries';
import { RunBar } from './RunBar';
import { SpecimenSide } from './SpecimenSide';
import { useLook } from './useLook';
import { useDesignerKeys } from './useDesignerKeys';
import type { Where } from './where';
import css from './Designer.module.css';

/** The outline at left, the selected step's work surface in the middle, the record beside it. */
export function Designer({ view }: { view: FlowView }) {
  const draft = useDraft(view);
  const environment = useEnvironment();
  const steps = draft.flow.steps;
  const look = useLook(steps);
  const [run, setRun] = useState<RunView>();
  const check = useFlowCheck(draft.flow, environment);
  const step = steps.find((s) => s.id === look.step);
  const where: Where = {
    flow: view.id,
    definition: draft.flow,
    step: look.step ?? '',
    environment,
    number: look.number,
  };
  const specimen = useSpecimen(where);
  useEffect(() => {
    document.title = draft.name;
  }, [draft.name]);
  useDesignerKeys(draft, look);

  const records = check.data?.records;
  const outline = steps.map((s, i) => outlineStep(s, i, check.data, run));
  const remove = (id: string) => {
    const at = steps.findIndex((s) => s.id === id);
    draft.change((flow) => removeStep(flow, id));
    look.at(steps[Math.max(0, at - 1)]?.id);
  };
  const add = (kind: Parameters<typeof addStep>[1]) => {
    const next = addStep(draft.flow, kind, look.step);
    draft.change((flow) => addStep(flow, kind, look.step));
    look.at(next.steps.find((s) => !steps.some((x) => x.id === s.id))?.id);
  };
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
        <div className="scroll">
          <Outline
            steps={outline}
            at={steps.findIndex((s) => s.id === look.step)}
            onSelect={(i) => look.at(steps[i].id)}
            moving={run?.state === 'running'}
          />
          <AddStep add={add} />
        </div>
      </section>
      <section className={css.surface} aria-label="step">
        <Fence key={look.step}>
          {step ? (
            <Surface
              key={step.id}
              step={step}
              edit={(change) => draft.changeStep(step.id, change)}
              remove={() => remove(step.id)}
              where={where}
              specimen={specimen.data}
              setNumber={look.record}
              flowName={draft.name}
              problem={check.data?.problems.find((p) => p.place?.step === step.id && !p.place.row)?.text}
              goTo={look.at}
            />
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
        where={where}
      />
    </div>
  );
}

function Surface(props: PanelProps) {
  const { Panel } = kindOf(props.step);
  return <Panel {...props} />;
}

function outlineStep(s: Step, i: number, check?: FlowCheck, run?: RunView): OutlineStep {
  const ran = run?.steps[i];
  const p = check?.problems.find((x) => x.place?.step === s.id);
  return {
    kind: s.kind,
    title: kindOf(s).title(s),
    out: ran ? ran.out : (check?.records ?? null),
    aside: ran?.waiting,
    inDoubt: ran?.inDoubt,
    problem: p && inWords(p),
  };
}
