import { Select } from 'antd';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { Rule, StepOf } from '../../../api/types';
import { Panel } from '../../../common/Panel';
import { ErrorText, Status } from '../../../common/ui';
import { useContract } from '../../../contracts';
import { WordsField } from '../../fields';
import { FillTable, filledWords, merged, useFill, type Filling } from '../../fill';
import { PanelHead } from '../../PanelHead';
import { withStep } from '../../where';
import type { PanelProps } from '../kind';
import { operationPath, type RequestOf } from '../request';
import css from './Reply.module.css';

type Reply = StepOf<'reply'>;

/** The step's message, as it is filled. */
const fillingOf = (step: Reply, of: RequestOf): Filling => ({
  what: 'message',
  key: ['reply', of.contract, of.version, of.port, of.operation, step.fault, step.fill],
  isReady: true,
  rules: step.fill ?? [],
  wish: (kinds) => ({
    contract: of.contract,
    version: of.version,
    port: of.port,
    operation: of.operation,
    part: step.fault ? `fault:${step.fault}` : 'answer',
    kinds,
    opened: [],
  }),
});

/** The answer of the operation that the flow answers, or one of its faults, filled like any message. */
export function MessageReply({
  step,
  edit,
  remove,
  where,
  specimen,
  setNumber,
  problem,
  request,
}: PanelProps<Reply> & { request: RequestOf }) {
  const [draft, setDraft] = useState<Rule>();
  const [opened, setOpened] = useState<string[]>([]);
  const rules = step.fill ?? [];
  const asked = { ...step, fill: draft ? merged(rules, draft) : rules };
  const filling = useMemo(() => fillingOf(step, request), [step, request]);
  const fill = useFill(fillingOf(asked, request), { ...withStep(where, asked), opened });
  const f = fill.data;
  return (
    <Panel
      scrolls={false}
      head={
        <PanelHead title="Reply" remove={remove}>
          <Which step={step} edit={edit} request={request} />
          <Link to={operationPath(request)}>its operation</Link>
          {f && <span className="num soft nowrap">{filledWords(f.rows, f.unfilled, rules)}</span>}
          {problem && <Status mood="bad">{problem}</Status>}
        </PanelHead>
      }
      bar={
        step.fault && (
          <div className={css.text}>
            <WordsField
              label="Said to people"
              id="text"
              value={step.text}
              set={(text) => edit((s) => ({ ...s, text }))}
              placeholder={`${step.fault}; values stand in braces: {portCode}`}
            />
          </div>
        )
      }
    >
      {fill.isError && !f ? (
        <div className={css.inset}>
          <ErrorText error={fill.error} />
        </div>
      ) : (
        f && (
          <FillTable
            key={step.fault ?? 'answer'}
            fill={f}
            filling={filling}
            setRules={(change) => edit((s) => ({ ...s, fill: change(s.fill ?? []) }))}
            draft={draft}
            setDraft={setDraft}
            specimen={specimen}
            where={where}
            setNumber={setNumber}
            open={(p) => setOpened([...opened, p])}
          />
        )
      )}
    </Panel>
  );
}

const ANSWER = '';

/** Its answer, or one of the faults that it declares. */
function Which({ step, edit, request }: Pick<PanelProps<Reply>, 'step' | 'edit'> & { request: RequestOf }) {
  const contract = useContract(request.contract, request.version?.toString()).data;
  const operation = contract?.services
    .flatMap((s) => s.ports)
    .filter((p) => !request.port || p.name === request.port)
    .flatMap((p) => p.operations)
    .find((o) => o.name === request.operation);
  return (
    <Select
      size="small"
      aria-label="what is answered"
      popupMatchSelectWidth={false}
      value={step.fault ?? ANSWER}
      onChange={(to: string) => edit((s) => ({ ...s, fill: [], fault: to || undefined }))}
      options={[
        { value: ANSWER, label: 'the answer' },
        ...(operation?.faults ?? []).map((name) => ({ value: name, label: `the fault ${name}` })),
      ]}
    />
  );
}
