import type { StepOf } from '../../../api/types';
import { Choice, WordsField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';

const Aside = ({ step, edit, remove, problem }: PanelProps<StepOf<'aside'>>) => (
  <Form
    title="Set aside"
    about="Sets the record aside with a reason of its own; it waits to be mended. Values in it stand in braces."
    remove={remove}
    problem={problem}
  >
    <WordsField
      label="Reason"
      id="reason"
      value={step.reason}
      set={(reason) => edit((s) => ({ ...s, reason }))}
      placeholder="no berth for {$record/vessel_name}"
    />
    <Choice id="stop" label="Pause the run, too" value={step.stop} set={(stop) => edit((s) => ({ ...s, stop }))}>
      {step.stop ? 'The run pauses and asks whether to go on.' : 'Other records go on.'}
    </Choice>
  </Form>
);

export const aside: StepKind<'aside'> = {
  kind: 'aside',
  about: 'set the record aside with a reason, or pause the run',
  fresh: { kind: 'aside' },
  title: (s) => (s.stop ? `pause the run: ${s.reason ?? ''}` : (s.reason ?? 'give the reason')),
  isOpen: (s) => !s.reason,
  Panel: Aside,
};
