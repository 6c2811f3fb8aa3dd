import { Button, Select } from 'antd';
import type { Api, StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { useContract } from '../../../contracts';
import { allSteps } from '../../tree';
import { WordsField, XPathField } from '../../fields';
import { Form } from '../Form';
import type { PanelProps, StepKind } from '../kind';
import css from './Attempt.module.css';
import { codeOfFault } from '../../../common/faults';

type Attempt = StepOf<'attempt'>;
type Rescue = Api<'Rescue'>;

const USUAL = ['unreachable', 'HTTP 4*', 'HTTP 5*', 'fault *', 'unreadable answer'];

/** Faults that the calls inside declare, and failures that any call may have. */
function useCodes(step: Attempt): string[] {
  const call = allSteps(step.steps).find((s): s is StepOf<'call'> => s.kind === 'call');
  const contract = useContract(call?.contract);
  const operations = contract.data?.services.flatMap((s) => s.ports.flatMap((p) => p.operations)) ?? [];
  const faults = operations.find((o) => o.name === call?.operation)?.faults ?? [];
  return [...faults.map(codeOfFault), ...USUAL];
}

const ABOUT =
  'Tries the steps inside. When they fail, the first rescue that fits goes on with $failure; what the failed steps ' +
  'would have written is dropped. A call whose answer is not known is never rescued.';

/** Which failures are normal outcomes; what is done about each stands in the outline. */
function AttemptPanel({ step, edit, remove, where, problem }: PanelProps<Attempt>) {
  const codes = useCodes(step);
  const change = (i: number, by: Partial<Rescue>) =>
    edit((s) => ({ ...s, rescues: s.rescues.map((r, n) => (n === i ? { ...r, ...by } : r)) }));
  return (
    <Form title="Attempt" about={ABOUT} remove={remove} problem={problem}>
      <WordsField
        label="What is tried"
        id="about"
        value={step.about}
        set={(about) => edit((s) => ({ ...s, about }))}
        placeholder="order a pilot"
      />
      {step.rescues.map((r, i) => (
        <div key={i} className={css.rescue}>
          <Field label={`Rescue ${i + 1} is for`} id={`codes-${i}`}>
            <Select
              id={`codes-${i}`}
              mode="tags"
              className={css.codes}
              aria-label={`failures of rescue ${i + 1}`}
              placeholder="any failure"
              value={r.codes ?? []}
              onChange={(v: string[]) => change(i, { codes: v.length ? v : undefined })}
              options={codes.map((c) => ({ value: c, label: c }))}
            />
          </Field>
          <XPathField
            label="and only when"
            id={`when-${i}`}
            where={where}
            value={r.when}
            set={(when) => change(i, { when })}
            placeholder="always; or $failure/detail/Closed/until > current-date()"
          />
          {step.rescues.length > 1 && (
            <button
              className="link soft small"
              onClick={() => edit((s) => ({ ...s, rescues: s.rescues.filter((_, n) => n !== i) }))}
            >
              remove this rescue with its steps
            </button>
          )}
        </div>
      ))}
      <Button size="small" onClick={() => edit((s) => ({ ...s, rescues: [...s.rescues, { steps: [] }] }))}>
        Add a rescue
      </Button>
    </Form>
  );
}

export const attempt: StepKind<'attempt'> = {
  kind: 'attempt',
  about: 'try steps, and say what is done when they fail',
  fresh: { kind: 'attempt', steps: [], rescues: [{ steps: [] }] },
  title: (s) => s.about ?? (s.steps.length ? 'try' : 'add the steps to try'),
  isOpen: (s) => s.steps.length === 0,
  Panel: AttemptPanel,
};
