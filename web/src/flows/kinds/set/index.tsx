import type { StepOf } from '../../../api/types';
import { NameField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';

const Set = ({ step, edit, remove, where, problem }: PanelProps<StepOf<'set'>>) => (
  <Form title="Set" about="Gives a value a name for the steps after it." remove={remove} problem={problem}>
    <NameField
      label="Name"
      id="name"
      value={step.name}
      set={(name) => edit((s) => ({ ...s, name }))}
      placeholder="night"
    />
    <XPathField
      label="Value"
      id="value"
      where={where}
      value={step.value}
      set={(value) => edit((s) => ({ ...s, value }))}
      placeholder="substring(eta, 1, 10)"
    />
  </Form>
);

export const set: StepKind<'set'> = {
  kind: 'set',
  about: 'give a value a name',
  fresh: { kind: 'set' },
  title: (s) => (s.name ? `$${s.name} is ${s.value ?? '…'}` : 'name a value'),
  isOpen: (s) => !s.name || !s.value,
  Panel: Set,
};
