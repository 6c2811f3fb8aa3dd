import type { StepOf } from '../../../api/types';
import { WordsField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';

const Total = ({ step, edit, remove, where, problem }: PanelProps<StepOf<'total'>>) => (
  <Form
    title="Total"
    about="Adds a number to a total of the run. It counts once the record is done, and is shown with the run."
    remove={remove}
    problem={problem}
  >
    <WordsField
      label="Total"
      id="total"
      value={step.name}
      set={(name) => edit((s) => ({ ...s, name }))}
      placeholder="tonnes"
    />
    <XPathField
      label="Grows by"
      id="value"
      where={where}
      value={step.value}
      set={(value) => edit((s) => ({ ...s, value }))}
      placeholder="gt"
    />
  </Form>
);

export const total: StepKind<'total'> = {
  kind: 'total',
  about: 'add a number to a total of the run',
  fresh: { kind: 'total' },
  title: (s) => (s.name ? `${s.name} grows by ${s.value ?? '…'}` : 'name the total'),
  isOpen: (s) => !s.name || !s.value,
  Panel: Total,
};
