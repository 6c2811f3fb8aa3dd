import { InputNumber } from 'antd';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { Choice, NameField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import { Columns } from '../pick/Columns';
import css from './Gather.module.css';

type Gather = StepOf<'gather'>;

const MAX_ENTRIES = 100_000;

const ABOUT =
  'Gathers records into groups. Once all records have come so far, each group goes on as one record, with its key, ' +
  'its count and its entries. What a record did before stays done, whatever happens to its group.';

/** Which records are a group, and what each brings. */
function GatherPanel({ step, edit, remove, where, specimen, problem }: PanelProps<Gather>) {
  return (
    <Form title="Gather" about={ABOUT} remove={remove} problem={problem}>
      <XPathField
        label="By"
        id="by"
        where={where}
        value={step.by}
        set={(by) => edit((s) => ({ ...s, by }))}
        placeholder="all together; or vessel, $reply/berth"
      />
      <Field label="At most, in a group" id="most">
        <InputNumber
          id="most"
          min={1}
          max={MAX_ENTRIES}
          placeholder="100,000"
          value={step.most}
          onChange={(v) => edit((s) => ({ ...s, most: v ?? undefined }))}
        />
      </Field>
      <Choice
        id="waits"
        label="Complete groups only"
        value={step.waits}
        set={(waits) => edit((s) => ({ ...s, waits }))}
      >
        {step.waits
          ? 'Groups wait while a record is set aside or in doubt before here.'
          : 'Groups go on without records that are set aside; those make a later group.'}
      </Choice>
      <NameField
        label="An entry is named"
        id="as"
        value={step.as}
        set={(as) => edit((s) => ({ ...s, as }))}
        placeholder="entry"
      />
      <Field label="An entry has">
        {step.columns?.length ? null : <span className="soft small">the record’s own fields, or these:</span>}
        <div className={css.table}>
          <Columns
            kind={{ columns: step.columns ?? [] }}
            edit={(change) => edit((s) => ({ ...s, columns: change({ columns: s.columns ?? [] }).columns }))}
            specimen={specimen}
          />
        </div>
      </Field>
    </Form>
  );
}

export const gather: StepKind<'gather'> = {
  kind: 'gather',
  about: 'make groups of records; each group goes on as one',
  fresh: { kind: 'gather' },
  title: (s) => {
    const size = s.most ? `, at most ${s.most}` : '';
    return (s.by ? `by ${s.by}` : s.most ? 'into groups' : 'all into one group') + size;
  },
  note: (s) => `$${s.as ?? 'entry'}`,
  isOpen: () => false,
  Panel: GatherPanel,
};
