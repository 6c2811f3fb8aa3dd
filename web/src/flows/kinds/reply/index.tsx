import type { StepOf } from '../../../api/types';
import { XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import { Columns } from '../pick/Columns';
import css from './Reply.module.css';

const Reply = ({ step, edit, remove, where, specimen, problem }: PanelProps<StepOf<'reply'>>) => (
  <Form
    title="Reply"
    about="What is answered to whoever handed the record over, such as a flow that runs this one. The last one counts."
    remove={remove}
    problem={problem}
  >
    <XPathField
      label="One record for each of"
      id="from"
      where={where}
      value={step.from}
      set={(from) => edit((s) => ({ ...s, from }))}
      placeholder="one record only"
    />
    <div className={css.table}>
      <Columns
        kind={{ columns: step.columns ?? [] }}
        edit={(change) => edit((s) => ({ ...s, columns: change({ columns: s.columns ?? [] }).columns }))}
        specimen={specimen}
      />
    </div>
  </Form>
);

export const reply: StepKind<'reply'> = {
  kind: 'reply',
  about: 'answer whoever handed the record over',
  fresh: { kind: 'reply', columns: [] },
  title: (s) => (s.columns.length === 0 ? 'choose what is answered' : (s.from ?? 'one record')),
  isOpen: (s) => s.columns.length === 0,
  Panel: Reply,
};
