import { rowOf } from '../common/problems';
import type { KeyboardEvent } from 'react';
import type { OperationView, PortView, ShapeRow } from '../api/types';
import { when } from '../common/format';
import { MessageEditor } from '../common/MessageEditor';
import { AnswerPane } from './AnswerPane';
import { BenchBar } from './BenchBar';
import { BenchFoot } from './BenchFoot';
import { BenchRows } from './BenchRows';
import { useShape } from './shape';
import { useBench } from './useBench';
import css from './Bench.module.css';

const NO_ROWS: ShapeRow[] = [];

/** One operation tried by hand. What is typed is remembered per operation, in this browser. */
export function Bench({ contract, port, operation }: { contract: string; port: PortView; operation: OperationView }) {
  const b = useBench(contract, port, operation);
  const wish = {
    contract,
    port: port.name,
    operation: operation.name,
    part: 'request',
    kinds: b.state.kinds,
    opened: b.state.opened,
    occurrences: b.state.counts,
  };
  const shape = useShape(wish);
  const keys = (e: KeyboardEvent) => {
    if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
      e.preventDefault();
      b.send.mutate();
    }
  };
  return (
    <div className={css.bench} role="group" aria-label="Bench" onKeyDown={keys}>
      <div className={css.request}>
        <BenchBar bench={b} contract={contract} port={port} operation={operation} />
        {b.xml !== null ? (
          <MessageEditor
            label={operation.http ? 'request text' : 'request XML'}
            isXml={!operation.http}
            value={b.xml}
            onChange={b.setXml}
          />
        ) : (
          <BenchRows
            rows={shape.data ?? NO_ROWS}
            error={shape.error}
            state={b.state}
            setState={b.edit}
            wish={wish}
            problems={new Map(b.problems.map((p) => [rowOf(p), p]))}
            tried={b.send.isSuccess || b.send.isError}
            given={b.given}
          />
        )}
        <BenchFoot bench={b} />
      </div>
      <AnswerPane
        contract={contract}
        port={port.name}
        operation={operation.name}
        isPlain={!!operation.http}
        answer={b.past?.answer ?? b.send.data}
        from={b.past ? `sent ${when(b.past.at.sentAt)} by ${b.past.at.account}` : undefined}
        error={b.past ? null : b.send.error}
        busy={b.send.isPending}
      />
    </div>
  );
}
