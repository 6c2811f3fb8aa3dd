import { Input } from 'antd';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { Panel } from '../../../common/Panel';
import { PanelHead } from '../../PanelHead';
import { useEvaluated } from '../../queries';
import type { PanelProps } from '../kind';
import css from './CheckPanel.module.css';

export function CheckPanel({ step, edit, remove, where }: PanelProps<StepOf<'check'>>) {
  const v = useEvaluated(where, step.condition).data;
  return (
    <Panel head={<PanelHead title="Check" remove={remove} />}>
      <div className={css.inset}>
        <Field label="A record goes on if this XPath holds; otherwise it is set aside" id="condition">
          <Input
            id="condition"
            className="mono"
            placeholder="draft_m != '' and port = 'TLWRC'"
            value={step.condition ?? ''}
            onChange={(e) => edit((s) => ({ ...s, condition: e.target.value }))}
            status={v?.problem ? 'error' : undefined}
          />
        </Field>
        <div className={`small ${css.value}`}>
          {v?.problem ? (
            <span className="wrong">{v.problem}</span>
          ) : (
            v && <span className="soft">for the specimen: {v.value ?? 'nothing'}</span>
          )}
        </div>
        <Field label="The reason given" id="reason">
          <Input
            id="reason"
            placeholder="the draught is missing"
            value={step.message ?? ''}
            onChange={(e) => edit((s) => ({ ...s, message: e.target.value }))}
          />
        </Field>
      </div>
    </Panel>
  );
}
