import { InputNumber, Switch } from 'antd';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { NameField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import { Columns } from '../pick/Columns';
import css from './Each.module.css';

type Each = StepOf<'each'>;

/** What a record is split into, how its parts are worked on, and what they come to. */
function EachPanel({ step, edit, remove, where, specimen, problem }: PanelProps<Each>) {
  return (
    <Form
      title="Each"
      about="Splits the record: the steps inside are worked once a part. The record goes on when all are through."
      remove={remove}
      problem={problem}
    >
      <XPathField
        label="Over"
        id="over"
        where={where}
        value={step.over}
        set={(over) => edit((s) => ({ ...s, over }))}
        placeholder="$record/order, $reply/window"
      />
      <div className={css.columns}>
        <NameField
          label="A part is named"
          id="as"
          value={step.as}
          set={(as) => edit((s) => ({ ...s, as }))}
          placeholder="part"
        />
        <NameField
          label="and its number"
          id="number"
          value={step.number}
          set={(number) => edit((s) => ({ ...s, number }))}
          placeholder="none"
        />
        <Field label="At a time" id="parallel">
          <InputNumber
            id="parallel"
            min={1}
            max={64}
            placeholder="1"
            value={step.parallel}
            onChange={(v) => edit((s) => ({ ...s, parallel: v ?? undefined }))}
          />
        </Field>
      </div>
      <Field label="When one fails" id="finish">
        <Switch
          id="finish"
          checked={!!step.finishOthers}
          onChange={(v) => edit((s) => ({ ...s, finishOthers: v || undefined }))}
        />{' '}
        <span className="soft small">
          {step.finishOthers
            ? 'The others are finished first; then the record is set aside.'
            : 'No further part is begun; the record is set aside.'}
        </span>
      </Field>
      <Collect step={step} edit={edit} specimen={specimen} />
    </Form>
  );
}

function Collect({ step, edit, specimen }: Pick<PanelProps<Each>, 'step' | 'edit' | 'specimen'>) {
  const collect = step.collect;
  return (
    <>
      <Field label="Collect" id="collect">
        <Switch
          id="collect"
          checked={!!collect}
          onChange={(on) => edit((s) => ({ ...s, collect: on ? { as: 'answers', columns: [] } : undefined }))}
        />{' '}
        <span className="soft small">
          {collect ? 'One entry a part, made when the part is through.' : 'The parts leave nothing behind.'}
        </span>
      </Field>
      {collect && (
        <>
          <NameField
            label="into"
            id="into"
            value={collect.as}
            set={(as) => edit((s) => ({ ...s, collect: { ...s.collect, as } }))}
          />
          <div className={css.table}>
            <Columns
              kind={{ columns: collect.columns ?? [] }}
              edit={(change) =>
                edit((s) => ({
                  ...s,
                  collect: { ...s.collect, columns: change({ columns: s.collect?.columns ?? [] }).columns },
                }))
              }
              specimen={specimen}
            />
          </div>
        </>
      )}
    </>
  );
}

export const each: StepKind<'each'> = {
  kind: 'each',
  about: 'split the record and work on each part',
  fresh: { kind: 'each', steps: [] },
  title: (s) => s.over ?? 'say what it is split into',
  note: (s) => `$${s.as ?? 'part'}${(s.parallel ?? 1) > 1 ? ` ${s.parallel} at a time` : ''}`,
  isOpen: (s) => !s.over,
  Panel: EachPanel,
};
