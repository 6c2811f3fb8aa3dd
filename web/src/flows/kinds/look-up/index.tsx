import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { Choice, NameField, XPathField } from '../../fields';
import { SourceFieldSelect, SourceSelect } from '../../SourceSelect';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';

function LookUp({ step, edit, remove, where, problem }: PanelProps<StepOf<'look-up'>>) {
  return (
    <Form
      title="Look up"
      about="Finds the records of another source that belong to this one. The source is read once, when it is needed."
      remove={remove}
      problem={problem}
    >
      <Field label="Source">
        <SourceSelect value={step.source} set={(source) => edit((s) => ({ ...s, source, field: undefined }))} />
      </Field>
      <Field label="Its field">
        <SourceFieldSelect
          source={step.source}
          environment={where.environment}
          value={step.field}
          set={(field) => edit((s) => ({ ...s, field }))}
        />
      </Field>
      <XPathField
        label="Is equal to"
        id="value"
        where={where}
        value={step.value}
        set={(value) => edit((s) => ({ ...s, value }))}
        placeholder="call_sign"
      />
      <NameField
        label="Name of what is found"
        id="as"
        value={step.as}
        set={(as) => edit((s) => ({ ...s, as }))}
        placeholder="vessel"
      />
      <Choice id="all" label="Several may fit" value={step.all} set={(all) => edit((s) => ({ ...s, all }))}>
        {step.all ? 'All that fit are taken.' : 'A record with two that fit is set aside.'}
      </Choice>
      <Choice
        id="optional"
        label="None may fit"
        value={step.optional}
        set={(optional) => edit((s) => ({ ...s, optional }))}
      >
        {step.optional ? 'Then the name stands for nothing.' : 'A record for which none is found is set aside.'}
      </Choice>
    </Form>
  );
}

export const lookUp: StepKind<'look-up'> = {
  kind: 'look-up',
  about: 'find records of another source by a key',
  fresh: { kind: 'look-up' },
  title: (s) => (s.source ? `${s.source}${s.field ? ` by ${s.field}` : ''}` : 'choose a source'),
  isOpen: (s) => !s.source || !s.field || !s.value || !s.as,
  Panel: LookUp,
};
