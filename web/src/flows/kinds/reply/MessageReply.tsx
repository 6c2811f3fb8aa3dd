import { Select } from 'antd';
import { useCallback } from 'react';
import { Link } from 'react-router';
import type { StepOf } from '../../../api/types';
import { Panel } from '../../../common/Panel';
import { Status } from '../../../common/ui';
import { useContract } from '../../../contracts';
import { WordsField } from '../../fields';
import { filledWords, useFilled, type Filling } from '../../fill';
import { PanelHead } from '../../PanelHead';
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
export function MessageReply(props: PanelProps<Reply> & { request: RequestOf }) {
  const { step, edit, remove, problem, request } = props;
  const of = useCallback((s: Reply) => fillingOf(s, request), [request]);
  const { fill: f, table } = useFilled(props, of, step.fault ?? 'answer');
  return (
    <Panel
      scrolls={false}
      head={
        <PanelHead title="Reply" remove={remove}>
          <Which step={step} edit={edit} request={request} />
          <Link to={operationPath(request)}>its operation</Link>
          {f && <span className="num soft nowrap">{filledWords(f.rows, f.unfilled, step.fill ?? [])}</span>}
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
      {table}
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
