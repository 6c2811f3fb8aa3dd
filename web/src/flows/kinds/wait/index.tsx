import type { StepOf } from '../../../api/types';
import { WordsField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';

const Wait = ({ step, edit, remove, problem }: PanelProps<StepOf<'wait'>>) => (
  <Form title="Wait" about="Lets each record wait before it goes on." remove={remove} problem={problem}>
    <WordsField
      label="How long, at most 1 min"
      id="time"
      value={step.time}
      set={(time) => edit((s) => ({ ...s, time }))}
      placeholder="500 ms, 5 s"
    />
  </Form>
);

export const wait: StepKind<'wait'> = {
  kind: 'wait',
  about: 'let each record wait',
  fresh: { kind: 'wait' },
  title: (s) => s.time ?? 'say how long',
  isOpen: (s) => !s.time,
  Panel: Wait,
};
