import { useQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Api, ContractView } from '../api/types';
import { Scroll } from '../common/Panel';
import { ErrorText, Status } from '../common/ui';
import { MessageText } from '../common/MessageText';
import css from './MessageShapes.module.css';

/** A message with made-up values, the smallest or with everything in it. */
export function ExampleMessage({
  contract: c,
  port,
  operation,
  part,
  full,
}: {
  contract: ContractView;
  port: string;
  operation: string;
  part: string;
  full: boolean;
}) {
  const example = useQuery({
    queryKey: ['example', c.name, c.version, port, operation, part, full],
    queryFn: () =>
      api.post<Api<'ExampleText'>>(`/contracts/${seg(c.name)}/example`, {
        port,
        operation,
        part,
        full,
        version: c.version,
      }),
  });
  if (example.isError)
    return (
      <div className={css.inset}>
        <ErrorText error={example.error} />
      </div>
    );
  if (!example.data) return <div />;
  const { envelope, problems } = example.data;
  return (
    <Scroll label="example" className={css.body}>
      <div className={`row ${css.bar2}`}>
        {problems.length ? (
          <Status mood="warn">{problems[0].text}</Status>
        ) : part.includes('fault:') ? (
          <span className="soft small">the fault’s detail</span>
        ) : (
          <Status mood="ok">valid against the schema</Status>
        )}
        <button className="link soft small push" onClick={() => void navigator.clipboard?.writeText(envelope)}>
          copy
        </button>
      </div>
      <MessageText text={envelope} />
    </Scroll>
  );
}
