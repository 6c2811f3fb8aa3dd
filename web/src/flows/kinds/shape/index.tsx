import { Switch, Select } from 'antd';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { Choice, NameField, WordsField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import { Columns } from '../pick/Columns';
import css from './Shape.module.css';

type Shape = StepOf<'shape'>;

const ABOUT =
  'Makes records of other ones: keeps those that meet a condition, in an order, each once, with fields added, ' +
  'renamed, dropped or numbered.';

/** Records made of other ones: which, in what order, with which fields. */
function ShapePanel({ step, edit, remove, where, specimen, problem }: PanelProps<Shape>) {
  const from = step.from;
  return (
    <Form title="Shape" about={ABOUT} remove={remove} problem={problem}>
      <XPathField
        label="Of"
        id="from"
        where={where}
        value={from}
        set={(to) => edit((s) => ({ ...s, from: to }))}
        placeholder="the record itself; or $answers"
      />
      <NameField
        label="Named (record makes it the record from here on)"
        id="as"
        value={step.as}
        set={(as) => edit((s) => ({ ...s, as }))}
        placeholder="record"
      />
      <XPathField
        label="Only those where"
        id="where"
        where={where}
        value={step.where}
        set={(to) => edit((s) => ({ ...s, where: to }))}
        placeholder="all"
      />
      <XPathField
        label="Ordered by"
        id="order"
        where={where}
        value={step.orderBy}
        set={(orderBy) => edit((s) => ({ ...s, orderBy }))}
        placeholder="as they come"
      />
      {step.orderBy && (
        <Field label="Largest first" id="descending">
          <Switch
            id="descending"
            checked={!!step.descending}
            onChange={(v) => edit((s) => ({ ...s, descending: v || undefined }))}
          />
        </Field>
      )}
      <XPathField
        label="Each once, by"
        id="distinct"
        where={where}
        value={step.distinct}
        set={(distinct) => edit((s) => ({ ...s, distinct }))}
        placeholder="all are kept"
      />
      <WordsField
        label="Numbered in the field"
        id="number"
        value={step.number}
        set={(number) => edit((s) => ({ ...s, number }))}
        placeholder="none"
      />
      <Field label="Fields">
        <div className={css.table}>
          <Columns
            kind={{ columns: step.columns ?? [] }}
            edit={(change) => edit((s) => ({ ...s, columns: change({ columns: s.columns ?? [] }).columns }))}
            specimen={specimen}
          />
        </div>
      </Field>
      <Choice
        id="others"
        label="Other fields"
        value={step.keepOthers}
        set={(keepOthers) => edit((s) => ({ ...s, keepOthers }))}
      >
        {step.keepOthers || !step.columns?.length ? 'Fields that are not listed stay.' : 'Only the listed fields stay.'}
      </Choice>
      <Field label="Without" id="drop">
        <Select
          id="drop"
          mode="tags"
          className={css.drop}
          aria-label="fields that are dropped"
          placeholder="nothing is dropped"
          value={step.drop ?? []}
          onChange={(v: string[]) => edit((s) => ({ ...s, drop: v.length ? v : undefined }))}
          options={specimen?.fields.map((f) => ({ value: f.name, label: f.label }))}
        />
      </Field>
    </Form>
  );
}

export const shape: StepKind<'shape'> = {
  kind: 'shape',
  about: 'add, rename, drop fields; filter, order, number records',
  fresh: { kind: 'shape', as: 'record', keepOthers: true },
  title: (s) => (!s.as ? 'give the result a name' : s.as === 'record' ? 'the record' : `$${s.as} of ${s.from ?? '.'}`),
  isOpen: (s) => !s.as,
  Panel: ShapePanel,
};
