import { Segmented } from 'antd';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { WordsField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import { KeptValues } from './KeptValues';

const Keep = ({ step, edit, remove, where, problem }: PanelProps<StepOf<'keep'>>) => (
  <Form
    title="Keep"
    about="Keeps a value for later runs, which see it as $kept with its name. It changes when the record is done."
    remove={remove}
    problem={problem}
  >
    <WordsField
      label="Name"
      id="name"
      value={step.name}
      set={(name) => edit((s) => ({ ...s, name }))}
      placeholder="last_ref"
    />
    <XPathField
      label="Value"
      id="value"
      where={where}
      value={step.value}
      set={(value) => edit((s) => ({ ...s, value }))}
      placeholder="$record/call_ref"
    />
    <Field label="Kept is the">
      <Segmented
        size="small"
        aria-label="which value is kept"
        value={step.rule ?? 'latest'}
        onChange={(rule) => edit((s) => ({ ...s, rule: rule === 'latest' ? undefined : rule }))}
        options={['latest', 'highest', 'lowest']}
      />
    </Field>
    <KeptValues flow={where.flow} />
  </Form>
);

export const keep: StepKind<'keep'> = {
  kind: 'keep',
  about: 'keep a value for later runs',
  fresh: { kind: 'keep' },
  title: (s) => (s.name ? `${s.name}, the ${s.rule ?? 'latest'} ${s.value ?? '…'}` : 'name the value'),
  isOpen: (s) => !s.name || !s.value,
  Panel: Keep,
};
