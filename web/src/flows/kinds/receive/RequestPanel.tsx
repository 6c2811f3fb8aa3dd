import { useMutation } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link } from 'react-router';
import type { StepOf } from '../../../api/types';
import { requestSample } from '../../../contracts';
import { Panel } from '../../../common/Panel';
import { ErrorText } from '../../../common/ui';
import { PanelHead } from '../../PanelHead';
import type { PanelProps } from '../kind';
import { operationPath } from '../request';
import { OperationList, type TakenOperation } from '../OperationList';
import { Samples } from './Samples';
import css from './ReceivePanel.module.css';

type Props = PanelProps<StepOf<'receive'>>;

/** The request of an operation that the flow answers in its service's place, and samples of it. */
export function RequestPanel({ step, edit, remove, problem, where, setNumber }: Props) {
  const of = step.request;
  const example = useMutation({
    mutationFn: () => requestSample(of?.contract ?? '', of?.version, of?.port, of?.operation ?? ''),
    onSuccess: (json) =>
      edit((s) => ({
        ...s,
        samples: [...(s.samples ?? []), { name: `sample ${(s.samples ?? []).length + 1}`, json }],
      })),
  });
  if (!of) return null;
  return (
    <Panel
      head={
        <PanelHead title="Receive" remove={remove}>
          <span className="nowrap">
            the request of{' '}
            <Link to={operationPath(of)}>
              {of.contract} · {of.operation}
            </Link>
          </span>
          <Link className="soft nowrap" to={`/published?add=endpoint&flow=${where.flow}`}>
            publish it
          </Link>
        </PanelHead>
      }
    >
      {problem && <p className={`st warn ${css.inset}`}>{problem}</p>}
      <p className={`soft small ${css.note}`}>
        <code>$input</code> is what stands in its body. A flow may take{' '}
        <button className="link" onClick={() => edit((s) => ({ ...s, request: undefined, samples: [] }))}>
          inputs of its own
        </button>{' '}
        instead.
      </p>
      {example.isError && <ErrorText error={example.error} />}
      <Samples step={step} edit={edit} number={where.number} setNumber={setNumber}>
        <Button size="small" loading={example.isPending} onClick={() => example.mutate()}>
          Add an example
        </Button>
      </Samples>
    </Panel>
  );
}

/** Chooses the operation; the flow begins with an example of its request. */
export function ChooseRequest({ edit, remove, done }: Props & { done: () => void }) {
  const take = useMutation({
    mutationFn: async ({ contract, version, port, operation }: TakenOperation) => {
      const request = { contract, version, port: port.name, operation: operation.name };
      return { request, json: await requestSample(contract, version, port.name, operation.name) };
    },
    onSuccess: ({ request, json }) => {
      edit((s) => ({ ...s, inputs: [], request, samples: [{ name: 'example', json }] }));
      done();
    },
  });
  return (
    <OperationList title="Receive" soapOnly take={take.mutate} remove={remove} error={take.error}>
      <button className="link soft" onClick={done}>
        inputs of its own instead
      </button>
    </OperationList>
  );
}
