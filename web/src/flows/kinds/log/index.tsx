import { Segmented } from 'antd';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { WordsField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';

const Log = ({ step, edit, remove, problem }: PanelProps<StepOf<'log'>>) => (
  <Form
    title="Log"
    about="Writes a line into the run once the record is done. Values in it stand in braces."
    remove={remove}
    problem={problem}
  >
    <WordsField
      label="Line"
      id="line"
      value={step.text}
      set={(text) => edit((s) => ({ ...s, text }))}
      placeholder="{$record/vessel_name} has {count($reply/window)} windows"
    />
    <Field label="Level">
      <Segmented
        size="small"
        aria-label="level"
        value={step.level ?? 'info'}
        onChange={(level) => edit((s) => ({ ...s, level: level === 'info' ? undefined : level }))}
        options={['info', 'warning']}
      />
    </Field>
  </Form>
);

export const log: StepKind<'log'> = {
  kind: 'log',
  about: 'write a line into the run',
  fresh: { kind: 'log' },
  title: (s) => s.text ?? 'write a line',
  isOpen: (s) => !s.text,
  Panel: Log,
};
