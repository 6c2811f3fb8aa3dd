import { InputNumber, Select, Switch } from 'antd';
import { Link } from 'react-router';
import type { StepOf } from '../../../api/types';
import { Field } from '../../../common/Field';
import { useConnectionsOf } from '../../../connections';
import { useContract } from '../../../contracts';
import { Choice, NameField, WordsField, XPathField } from '../../fields';
import { useFlows } from '../../queries';
import type { Where } from '../../where';
import { Renewal } from './Renewal';
import css from './CallSettings.module.css';
import { codeOfFault } from '../../../common/faults';

type Call = StepOf<'call'>;
interface Props {
  step: Call;
  edit: (change: (s: Call) => Call) => void;
  where: Where;
}

/** What is called, over which connection, how many at a time, and what counts as an answer. */
export function CallSettings({ step, edit, where }: Props) {
  const services = useConnectionsOf('soap');
  return (
    <div className={`scroll ${css.inset}`}>
      <Field label="Operation">
        <span className="mono">
          {step.contract} · {step.port ?? 'first port'} · {step.operation}
        </span>{' '}
        <button className="link soft small" onClick={() => edit((s) => ({ ...s, operation: undefined }))}>
          choose another; what fits of the fill stays
        </button>
      </Field>
      <Field label="Connection">
        <Select
          aria-label="connection"
          className={css.connection}
          placeholder="choose a connection"
          value={step.connection}
          onChange={(connection) => edit((s) => ({ ...s, connection }))}
          options={services.map((c) => ({ value: c.name, label: c.name }))}
        />{' '}
        <Link className="soft small" to="/connections/new">
          add one
        </Link>
      </Field>
      <Field label="Calls at a time (within the connection’s limit)" id="parallel">
        <InputNumber
          id="parallel"
          min={1}
          max={256}
          placeholder="4"
          value={step.parallel}
          onChange={(v) => edit((s) => ({ ...s, parallel: v ?? undefined }))}
        />
      </Field>
      <Field label="Safe to repeat" id="safe">
        <Switch
          id="safe"
          checked={!!step.safeToRepeat}
          onChange={(v) => edit((s) => ({ ...s, safeToRepeat: v || undefined }))}
        />{' '}
        <span className="soft small">
          {step.safeToRepeat
            ? 'A call without a known answer may be sent again.'
            : 'A call without a known answer is never sent again by itself; its record is in doubt.'}
        </span>
      </Field>
      {!step.safeToRepeat && !step.once && <LookUpOf step={step} edit={edit} where={where} />}
      {!step.once && (
        <Choice
          id="shared"
          label="Equal requests share one answer"
          value={step.shared}
          set={(shared) => edit((s) => ({ ...s, shared, safeToRepeat: shared || s.safeToRepeat }))}
        >
          {step.shared
            ? 'A request that the run has an answer for is not sent again: for look-ups of a few keys.'
            : 'Each record’s request is sent.'}
        </Choice>
      )}
      <TakenFaults step={step} edit={edit} where={where} />
      <NameField
        label="A name for the answer beside $reply"
        id="as"
        value={step.as}
        set={(as) => edit((s) => ({ ...s, as }))}
        placeholder="none"
      />
      <Choice id="once" label="Once a run" value={step.once} set={(once) => edit((s) => ({ ...s, once }))}>
        {step.once
          ? 'Called once for all records, such as for a session; what it answers is kept encrypted.'
          : 'Called for each record.'}
      </Choice>
      {step.once && <Renewal step={step} edit={edit} />}
      <Field label="An answer that does not fit its schema" id="unfit">
        <Select
          id="unfit"
          aria-label="an answer that does not fit its schema"
          className={css.connection}
          value={step.unfit ?? ''}
          onChange={(v: string) => edit((s) => ({ ...s, unfit: v || undefined }))}
          options={[
            { value: '', label: 'is taken as it is' },
            { value: 'noted', label: 'is noted in the trail' },
            { value: 'failure', label: 'is a failure' },
          ]}
        />{' '}
        {step.unfit && <span className="soft small">Each answer is held against its schema, which takes time.</span>}
      </Field>
      <XPathField
        label="A failure all the same when"
        id="failWhen"
        where={where}
        value={step.failWhen}
        set={(failWhen) => edit((s) => ({ ...s, failWhen }))}
        placeholder="never; or $reply/status = 'ERROR'"
      />
      {step.failWhen && (
        <WordsField
          label="with the reason (values in it stand in braces)"
          id="failText"
          value={step.failText}
          set={(failText) => edit((s) => ({ ...s, failText }))}
          placeholder="{$reply/message}"
        />
      )}
    </div>
  );
}

/** The flow that says whether a call without a known answer did happen. */
function LookUpOf({ step, edit, where }: Props) {
  const flows = useFlows().data ?? [];
  return (
    <Field label="Whether such a call happened, says the flow" id="resolver">
      <Select
        id="resolver"
        allowClear
        className={css.faults}
        aria-label="flow that is asked whether a call happened"
        placeholder="none: somebody finds out"
        value={step.resolver}
        onChange={(resolver?: string) => edit((s) => ({ ...s, resolver: resolver || undefined }))}
        options={flows.filter((f) => f.id !== where.flow).map((f) => ({ value: f.name, label: f.name }))}
      />
      <div className="soft small">
        It gets the same record, and its reply has the field <span className="mono">happened</span>.
      </div>
    </Field>
  );
}

/** Faults that are answers here: a record that gets one goes on, its detail being the answer. */
function TakenFaults({ step, edit }: Props) {
  const contract = useContract(step.contract);
  const ports = contract.data?.services.flatMap((s) => s.ports) ?? [];
  const operations = ports.filter((p) => !step.port || p.name === step.port).flatMap((p) => p.operations);
  const declared = operations.find((o) => o.name === step.operation)?.faults ?? [];
  return (
    <Field label="Faults that are answers" id="taken">
      <Select
        id="taken"
        mode="tags"
        className={css.faults}
        aria-label="faults that are answers"
        placeholder="none: any fault sets its record aside"
        value={step.takenFaults ?? []}
        onChange={(v: string[]) => edit((s) => ({ ...s, takenFaults: v.length ? v : undefined }))}
        options={declared.map((d) => {
          const value = /^HTTP /.test(d) ? codeOfFault(d) : d;
          return { value, label: value };
        })}
      />
      <div className="soft small">Their detail is then the answer: the steps after it can pick its fields.</div>
    </Field>
  );
}
