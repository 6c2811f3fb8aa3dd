import { Select } from 'antd';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { useContract } from '../../../contracts';
import { Choice } from '../../fields';
import css from './CallSettings.module.css';
import { codeOfFault } from '../../../common/faults';

type Call = StepOf<'call'>;

const USUAL = ['HTTP 401', 'HTTP 403', 'HTTP 440'];

/** When a call made once a run is made again: its session may end while the run goes on. */
export function Renewal({ step, edit }: { step: Call; edit: (change: (s: Call) => Call) => void }) {
  const contract = useContract(step.contract);
  const operations = contract.data?.services.flatMap((s) => s.ports.flatMap((p) => p.operations)) ?? [];
  const codes = [...new Set(operations.flatMap((o) => o.faults.map(codeOfFault))), ...USUAL];
  const renew = step.renew;
  return (
    <>
      <Field label="Made again when a later call fails with" id="renew">
        <Select
          id="renew"
          mode="tags"
          className={css.faults}
          aria-label="failures after which it is made again"
          placeholder="never"
          value={renew?.codes ?? []}
          onChange={(v: string[]) => edit((s) => ({ ...s, renew: v.length ? { ...s.renew, codes: v } : undefined }))}
          options={codes.map((c) => ({ value: c, label: c }))}
        />
      </Field>
      {renew && (
        <Choice
          id="renew-again"
          label="and that call is sent again"
          value={renew.sendAgain}
          set={(sendAgain) => edit((s) => ({ ...s, renew: { ...s.renew, sendAgain } }))}
        >
          {renew.sendAgain
            ? 'These failures mean that it was refused before it did anything.'
            : 'No: its record is set aside, as the call may have done something.'}
        </Choice>
      )}
    </>
  );
}
