import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { Choice, NameField, XPathField } from '../../fields';
import { SourceFieldSelect, SourceSelect } from '../../SourceSelect';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import css from './Join.module.css';

type Join = StepOf<'join'>;

const ABOUT =
  'Makes one record of each pair of records, of this one and of a source, whose keys are equal. A field that both ' +
  'have is told by the source’s name. The source is read once, when it is needed.';

function JoinPanel({ step, edit, remove, where, problem }: PanelProps<Join>) {
  return (
    <Form title="Join" about={ABOUT} remove={remove} problem={problem}>
      <XPathField
        label="Records that are joined"
        id="from"
        where={where}
        value={step.from}
        set={(from) => edit((s) => ({ ...s, from }))}
        placeholder="the record itself; or $record/order"
      />
      <Field label="With the source">
        <SourceSelect value={step.source} set={(source) => edit((s) => ({ ...s, source, on: keysOnly(s) }))} />
      </Field>
      <Pairs step={step} edit={edit} where={where} />
      <NameField
        label="Name of what is joined"
        id="as"
        value={step.as}
        set={(as) => edit((s) => ({ ...s, as }))}
        placeholder="joined"
      />
      <Choice
        id="alone"
        label="Without a partner"
        value={step.keepAlone}
        set={(keepAlone) => edit((s) => ({ ...s, keepAlone }))}
      >
        {step.keepAlone ? 'A record that has none stays, alone.' : 'A record that has none is left out.'}
      </Choice>
    </Form>
  );
}

/** The values that are compared; the fields were another source's. */
const keysOnly = (s: Join) => s.on?.map(({ value }) => ({ value }));

/** What has to be equal. */
function Pairs({ step, edit, where }: Pick<PanelProps<Join>, 'step' | 'edit' | 'where'>) {
  const pairs = step.on?.length ? step.on : [{}];
  const change = (i: number, to: { value?: string; field?: string }) =>
    edit((s) => ({ ...s, on: (s.on?.length ? s.on : [{}]).map((p, n) => (n === i ? { ...p, ...to } : p)) }));
  const without = (i: number) => edit((s) => ({ ...s, on: s.on?.filter((_, n) => n !== i) }));
  return (
    <>
      {pairs.map((p, i) => (
        <div key={i} className={css.pair}>
          <XPathField
            label={i === 0 ? 'Where' : 'and'}
            id={`value-${i}`}
            where={where}
            value={p.value}
            set={(value) => change(i, { value })}
            placeholder="call_sign"
          />
          <Field label="is equal to its field">
            <SourceFieldSelect
              source={step.source}
              environment={where.environment}
              label={`field ${i + 1}`}
              value={p.field}
              set={(field) => change(i, { field })}
            />
            {pairs.length > 1 && (
              <button className="link soft small" onClick={() => without(i)}>
                remove
              </button>
            )}
          </Field>
        </div>
      ))}
      <button className="link soft small" onClick={() => edit((s) => ({ ...s, on: [...pairs, {}] }))}>
        and another
      </button>
    </>
  );
}

export const join: StepKind<'join'> = {
  kind: 'join',
  about: 'make one record of this one and of each that fits of a source',
  fresh: { kind: 'join' },
  title: (s) => (s.source ? `${s.from ?? 'the record'} with ${s.source}` : 'choose a source'),
  note: (s) => s.as && `$${s.as}`,
  isOpen: (s) => !s.source || !s.as || !s.on?.length || s.on.some((p) => !p.value || !p.field),
  Panel: JoinPanel,
};
