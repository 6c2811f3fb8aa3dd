import { Segmented } from 'antd';
import { useState } from 'react';
import type { ContractView, OperationView } from '../api/types';
import { plural } from '../common/format';
import { ExampleMessage } from './ExampleMessage';
import { ShapeFields } from './ShapeFields';
import css from './MessageShapes.module.css';
import { titleOfFault } from '../common/faults';

type Show = 'shape' | 'required' | 'full';

/** Request, answer, headers and faults of an operation, each as a tree-table or as an example message. */
export function MessageShapes({
  contract: c,
  port,
  operation: o,
  part,
  at,
  setPart,
  onLine,
}: {
  contract: ContractView;
  port: string;
  operation: OperationView;
  part: string;
  at: string | null;
  setPart: (p: string) => void;
  onLine: (line: number, document: string) => void;
}) {
  const [show, setShow] = useState<Show>('shape');
  const parts = [
    { value: 'request', label: o.headers.length ? `Request and ${plural(o.headers.length, 'header')}` : 'Request' },
    ...(o.answerFields != null ? [{ value: 'answer', label: 'Answer' }] : []),
    ...o.faults.map((f) => ({ value: `fault:${f}`, label: titleOfFault(f).replace(/^f/, 'F') })),
    ...o.headerFaults.map((f) => ({ value: `headerfault:${f}`, label: `Header fault ${f}` })),
  ];
  return (
    <div className={css.frame}>
      <div className={`row wrap small ${css.bar}`}>
        <Segmented
          size="small"
          aria-label="message"
          value={part}
          onChange={(p) => setPart(String(p))}
          options={parts}
        />
        <span className="push soft">as</span>
        <Segmented<Show>
          size="small"
          value={show}
          onChange={setShow}
          options={[
            { value: 'shape', label: 'Fields' },
            { value: 'required', label: 'Smallest example' },
            { value: 'full', label: 'Example with everything' },
          ]}
        />
      </div>
      {show === 'shape' ? (
        <ShapeFields
          key={`${part} ${at}`}
          wish={{ contract: c.name, version: c.version, port, operation: o.name, part }}
          at={at}
          onLine={onLine}
        />
      ) : (
        <ExampleMessage
          key={part + show}
          contract={c}
          port={port}
          operation={o.name}
          part={part}
          full={show === 'full'}
        />
      )}
    </div>
  );
}
