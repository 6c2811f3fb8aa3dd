import { Checkbox, InputNumber, Select } from 'antd';
import type { RunTrigger } from '../api/types';
import { Field } from '../common/Field';
import { useFlows } from '../flows';
import { OUTCOMES, OUTCOME_WORDS } from './endpoint';
import css from './EndpointFields.module.css';

interface Props {
  after: RunTrigger;
  by: (change: Partial<RunTrigger>) => void;
}

/** The flow whose runs are told, and how they have to end for it. */
export function AfterRuns({ after, by }: Props) {
  const flows = useFlows().data?.filter((f) => !f.definition.steps.some((s) => s.kind === 'receive'));
  return (
    <>
      <div className={css.pair}>
        <Field label="After runs of" id="after-flow">
          <Select
            id="after-flow"
            aria-label="flow that runs"
            showSearch={{ optionFilterProp: 'label' }}
            className={css.wide}
            placeholder="choose a flow"
            value={after.flow || undefined}
            onChange={(flow) => by({ flow })}
            options={flows?.map((f) => ({ value: f.id, label: f.name }))}
          />
        </Field>
        <Field label="Attempts" id="after-attempts">
          <InputNumber
            id="after-attempts"
            min={1}
            max={20}
            value={after.attempts ?? 3}
            onChange={(n) => by({ attempts: n ?? undefined })}
          />
        </Field>
      </div>
      <Field label="That end">
        <Checkbox.Group
          value={after.outcomes ?? [...OUTCOMES]}
          onChange={(outcomes) => by({ outcomes })}
          options={OUTCOMES.map((o) => ({ value: o, label: OUTCOME_WORDS[o] }))}
        />
      </Field>
      <p className="soft small">
        Inputs of the flow that are named run, flow, environment, outcome, reason, started_by, started, ended, read,
        done, set_aside, in_doubt, discarded, totals or file get what is known of the run.
      </p>
    </>
  );
}
