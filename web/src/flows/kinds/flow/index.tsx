import { Select } from 'antd';
import { Link } from 'react-router';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { NameField, XPathField } from '../../fields';
import { useFlows } from '../../queries';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import css from './FlowPanel.module.css';

const ABOUT =
  'Runs another flow on this record. What it reads is passed by, what it writes is written with this record, what it ' +
  'replies has a name here.';

function FlowPanel({ step, edit, remove, where, problem }: PanelProps<StepOf<'flow'>>) {
  const flows = useFlows().data ?? [];
  const chosen = flows.find((f) => f.name === step.flow);
  return (
    <Form title="Run a flow" about={ABOUT} remove={remove} problem={problem}>
      <Field label="Flow">
        <Select
          aria-label="flow"
          className={css.choice}
          placeholder="choose a flow"
          value={step.flow}
          onChange={(flow) => edit((s) => ({ ...s, flow }))}
          options={flows.filter((f) => f.id !== where.flow).map((f) => ({ value: f.name, label: f.name }))}
        />{' '}
        {chosen && (
          <Link className="soft small" to={`/flows/${chosen.id}`}>
            open it
          </Link>
        )}
      </Field>
      <XPathField
        label="It works on"
        id="input"
        where={where}
        value={step.input}
        set={(input) => edit((s) => ({ ...s, input }))}
        placeholder="the record; or $order"
      />
      <NameField
        label="Name of what it replies"
        id="as"
        value={step.as}
        set={(as) => edit((s) => ({ ...s, as }))}
        placeholder="none"
      />
    </Form>
  );
}

export const flow: StepKind<'flow'> = {
  kind: 'flow',
  about: 'run another flow on the record',
  fresh: { kind: 'flow' },
  title: (s) => s.flow ?? 'choose a flow',
  note: (s) => s.as && `$${s.as}`,
  isOpen: (s) => !s.flow,
  Panel: FlowPanel,
};
