import { Segmented } from 'antd';
import type { StepOf } from '../../../api/types';
import { XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps } from '../kind';
import { Columns } from '../pick/Columns';
import { MessageReply } from './MessageReply';
import { requestOf } from '../request';
import css from './Reply.module.css';

/** Without the choice of the whole. */
function plain({ whole, ...rest }: StepOf<'reply'>): StepOf<'reply'> {
  void whole;
  return rest;
}

/** In a flow that answers an operation of a contract, its message is filled; in others, there are fields. */
export const ReplyPanel = (props: PanelProps<StepOf<'reply'>>) => {
  const request = requestOf(props.where.definition);
  return request ? <MessageReply {...props} request={request} /> : <Reply {...props} />;
};

const Reply = ({ step, edit, remove, where, specimen, problem }: PanelProps<StepOf<'reply'>>) => (
  <Form
    title="Reply"
    about="What is answered to whoever handed the record over, such as a flow that runs this one. The last one counts."
    remove={remove}
    problem={problem}
  >
    <Segmented<'fields' | 'whole'>
      size="small"
      aria-label="what is answered"
      value={step.whole ? 'whole' : 'fields'}
      onChange={(to) => edit((s) => (to === 'whole' ? { ...s, whole: true, from: s.from ?? '$reply' } : plain(s)))}
      options={[
        { value: 'fields', label: 'fields, one by one' },
        { value: 'whole', label: 'the whole of something' },
      ]}
    />
    <XPathField
      label={step.whole ? 'The whole of' : 'One record for each of'}
      id="from"
      where={where}
      value={step.from}
      set={(from) => edit((s) => ({ ...s, from }))}
      placeholder={step.whole ? '$reply' : 'one record only'}
    />
    <div className={css.table} hidden={!!step.whole}>
      <Columns
        kind={{ columns: step.columns ?? [] }}
        edit={(change) => edit((s) => ({ ...s, columns: change({ columns: s.columns ?? [] }).columns }))}
        specimen={specimen}
      />
    </div>
  </Form>
);
