import { Button, Segmented, Select } from 'antd';
import { useMemo, useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import type { OperationView, PortView } from '../../api/types';
import { useEnvironment } from '../../app/environment';
import { Field } from '../../common/Field';
import { plural } from '../../common/format';
import { ErrorText, Status } from '../../common/ui';
import { useContract, useShape } from '../../contracts';
import { SourcePicker, useSourcePreview, useTargets } from '../../data';
import { lacking } from '../fill';
import { keyed, pickOfAnswer, pickOfShape, repeats } from './plan';
import { useExchange, useFirstFill, useMaking } from './useMaking';
import css from './MakeFlowPage.module.css';

/** A flow of an operation, on one page: the source is chosen, all else has a default and can be changed afterwards. */
export function MakeFlowPage() {
  const [search] = useSearchParams();
  const contract = useContract(search.get('contract') ?? undefined);
  const port = contract.data?.services.flatMap((s) => s.ports).find((p) => p.name === search.get('port'));
  const operation = port?.operations.find((o) => o.name === search.get('operation'));
  if (contract.isPending) return null;
  if (contract.isError || !port || !operation)
    return (
      <div className="page">
        <ErrorText error={contract.error ?? new Error('There is no such operation. Choose one in its contract.')} />
      </div>
    );
  const of = { contract: contract.data.name, version: contract.data.version, port, operation };
  return <Making {...of} exchange={search.get('exchange')} />;
}

interface Props {
  contract: string;
  version: number;
  port: PortView;
  operation: OperationView;
  exchange: string | null;
}

const NOTHING: never[] = [];
const NEW_FILE = '\0file';
const NOWHERE = '\0nowhere';

function Making({ contract, version, port, operation, exchange }: Props) {
  const go = useNavigate();
  const environment = useEnvironment();
  const [source, setSource] = useState<string>();
  const [each, setEach] = useState<string>();
  const [target, setTarget] = useState(NEW_FILE);
  const targets = useTargets();
  const from = useExchange(contract, port.name, operation.name, exchange);
  const preview = useSourcePreview(source, environment);
  const call = { contract, version, port: port.name, operation: operation.name, fill: NOTHING };
  const fill = useFirstFill(call, source, environment, from.data?.rules ?? NOTHING);
  const answers = operation.direction !== 'one way';
  const shape = useShape(
    { contract, version, port: port.name, operation: operation.name, part: 'answer', kinds: {}, opened: [] },
    answers,
  );
  const rows = useMemo(() => shape.data ?? [], [shape.data]);
  const offered = useMemo(() => repeats(rows), [rows]);
  const chosen = each ?? offered[0]?.path ?? '';
  const key = preview.data?.fields[0]?.name;
  const pick = useMemo(() => {
    const ofShape = pickOfShape(rows, chosen);
    const real = from.data?.answer && pickOfAnswer(from.data.answer, ofShape.each);
    const made = real?.columns.length ? real : ofShape;
    return { ...made, columns: keyed(made.columns, key) };
  }, [rows, chosen, from.data, key]);
  const make = useMaking();
  const file = `${operation.name.replace(/[^\p{L}\p{N}]+/gu, '_')}.csv`;
  const open = fill.data?.view.unfilled ?? [];
  return (
    <div className={`page ${css.page}`}>
      <div className="head">
        <h1>A flow of {operation.name}</h1>
        <span className="soft">
          {contract}, port {port.name}
          {from.data ? ', from the exchange on the Bench' : ''}
        </span>
      </div>
      <Field label="1 · Records come from">
        <SourcePicker value={source} choose={setSource} />
        {preview.data && !preview.data.problem && (
          <div className="soft small">
            {plural(preview.data.fields.length, 'field')}: {preview.data.fields.map((f) => f.label).join(', ')}
          </div>
        )}
        {preview.data?.problem && <Status mood="bad">{preview.data.problem}</Status>}
      </Field>
      <Field label="2 · The request is filled">
        {fill.isError && <ErrorText error={fill.error} />}
        {fill.data ? (
          <>
            {plural(fill.data.rules.filter((r) => !r.branch).length, 'row')} by name and type
            {open.length > 0 ? (
              <>
                {' '}
                · <Status mood="warn">{lacking(open)} left for you</Status>
              </>
            ) : (
              <>
                {' '}
                · <Status mood="ok">all that is required</Status>
              </>
            )}
          </>
        ) : (
          <span className="soft">by the names of the source’s fields</span>
        )}
      </Field>
      {answers && (
        <Field label="3 · One result record is">
          <Select
            aria-label="one result record is"
            className={css.each}
            value={chosen}
            onChange={setEach}
            options={[
              { value: '', label: 'the whole answer' },
              ...offered.map((r) => ({ value: r.path, label: `each ${r.path.split('/').slice(1).join('/')}` })),
            ]}
          />
          <div className="soft small">
            {plural(pick.columns.length, 'column')}: {pick.columns.map((c) => c.name).join(', ')}
          </div>
        </Field>
      )}
      {answers && (
        <Field label="4 · Results go to">
          <Segmented
            value={target === NEW_FILE || target === NOWHERE ? target : 'there'}
            onChange={(v) => setTarget(v === 'there' ? (targets.data?.[0]?.name ?? NEW_FILE) : v)}
            options={[
              { value: NEW_FILE, label: `a new file, ${file}` },
              { value: 'there', label: 'a target that is there', disabled: !targets.data?.length },
              { value: NOWHERE, label: 'nowhere yet' },
            ]}
          />
          {target !== NEW_FILE && target !== NOWHERE && (
            <Select
              aria-label="target"
              className={css.target}
              value={target}
              onChange={setTarget}
              options={targets.data?.map((t) => ({ value: t.name, label: t.name }))}
            />
          )}
        </Field>
      )}
      <div className={`row ${css.deeds}`}>
        <Button
          type="primary"
          disabled={!source || !fill.data}
          loading={make.isPending}
          onClick={() =>
            make.mutate({
              contract,
              version,
              port,
              operation: operation.name,
              source: source ?? '',
              fill: fill.data?.rules ?? [],
              pick: answers ? pick : undefined,
              target: !answers || target === NOWHERE ? undefined : target === NEW_FILE ? { file } : { name: target },
              exchange,
            })
          }
        >
          Make the flow
        </Button>
        <Button type="text" onClick={() => void go(-1)}>
          Back
        </Button>
        <span className="soft small">Every part can be changed afterwards; nothing is called yet.</span>
      </div>
      {make.isError && <ErrorText error={make.error} />}
    </div>
  );
}
