import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Segmented } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import { api, seg } from '../api/client';
import type { Api, ContractView, OperationView, ShapeRow } from '../api/types';
import { plural } from '../common/format';
import { Problem, Status } from '../common/ui';
import { XmlText } from '../common/XmlText';
import { KindSelect } from './KindSelect';
import css from './MessageShapes.module.css';
import { indent, shifted, tall } from '../common/place';

export interface ShapeWish {
  contract: string;
  version?: number;
  port?: string;
  operation: string;
  part: string;
  kinds: Record<string, string>;
  opened: string[];
  occurrences?: Record<string, number>;
}

/** A message's shape, as rows. `kinds`, `opened` and `occurrences` change what is laid out. */
export function useShape({ contract, ...wish }: ShapeWish, enabled = true) {
  return useQuery({
    queryKey: ['shape', contract, wish],
    enabled,
    queryFn: () => api.post<{ rows: ShapeRow[] }>(`/contracts/${seg(contract)}/shape`, wish).then((r) => r.rows),
    staleTime: 60_000,
    placeholderData: keepPreviousData,
  });
}

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
    ...o.faults.map((f) => ({ value: `fault:${f}`, label: `Fault ${f}` })),
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
        <Fields
          key={`${part} ${at}`}
          wish={{ contract: c.name, version: c.version, port, operation: o.name, part }}
          at={at}
          onLine={onLine}
        />
      ) : (
        <Example key={part + show} contract={c} port={port} operation={o.name} part={part} full={show === 'full'} />
      )}
    </div>
  );
}

function Fields({
  wish,
  at,
  onLine,
}: {
  wish: Omit<ShapeWish, 'kinds' | 'opened'>;
  at: string | null;
  onLine: (line: number, document: string) => void;
}) {
  // A field that only a kind has is shown with that kind taken.
  const [search] = useSearchParams();
  const [kinds, setKinds] = useState<Record<string, string>>(() =>
    Object.fromEntries(search.getAll('kind').map((k) => [k.slice(0, k.indexOf('=')), k.slice(k.indexOf('=') + 1)])),
  );
  const [opened, setOpened] = useState<string[]>(() =>
    at ? at.split('/').map((_, i, all) => all.slice(0, i + 1).join('/')) : [],
  );
  const shape = useShape({ ...wish, kinds, opened });
  const rows = shape.data ?? [];
  const scroller = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 28,
    overscan: 20,
  });
  const place = at ? rows.findIndex((r) => r.path === at) : -1;
  useEffect(() => {
    if (place >= 0) list.scrollToIndex(place, { align: 'center' });
  }, [place]); // eslint-disable-line
  if (shape.isError)
    return (
      <div className={css.inset}>
        <Problem error={shape.error} />
      </div>
    );
  return (
    <div ref={scroller} className="scroll" role="table" aria-label="fields">
      <div className={`shaperow head ${css.columns}`} role="row">
        <span className={css.inset2}>element</span>
        <span>type</span>
        <span>occurs</span>
        <span>limits</span>
        <span>documentation</span>
        <span>line</span>
      </div>
      {shape.data?.length === 0 && <div className={`soft ${css.bar}`}>This message is empty.</div>}
      <div className="sparse" style={tall(list.getTotalSize())}>
        {list.getVirtualItems().map((v) => {
          const r = rows[v.index];
          const said = [r.documentation, r.constraints?.join('; '), r.appinfo && `for programs: ${r.appinfo}`]
            .filter(Boolean)
            .join(' · ');
          return (
            <div
              key={r.path}
              role="row"
              className={`shaperow sparse-row ${css.columns} ${v.index === place ? 'at' : ''}`}
              style={shifted(v.start)}
            >
              <span className="mono" style={indent(r.depth, 18)} title={r.path}>
                {name(r)}
                {r.closed && (
                  <button className={`link faint ${css.action}`} onClick={() => setOpened([...opened, r.path])}>
                    open
                  </button>
                )}
              </span>
              <span className="soft">
                {r.kinds ? (
                  <KindSelect
                    row={r}
                    wish={{ ...wish, kinds, opened }}
                    taken={r.taken}
                    take={(k) => setKinds({ ...kinds, [r.path]: k })}
                  />
                ) : (
                  r.type
                )}
              </span>
              <span className="num">
                {r.occurs}
                {r.nillable ? (
                  <span className="faint" title="may be nil">
                    {' '}
                    nil
                  </span>
                ) : null}
              </span>
              <span className="small" title={r.values?.join(', ') ?? r.limits}>
                {r.fixed != null ? `always ${r.fixed}` : r.limits}
                {r.defaultValue != null ? ` (default ${r.defaultValue})` : ''}
              </span>
              <span className="soft" title={said}>
                {said}
              </span>
              <span className="num">
                {r.line ? (
                  <button
                    className="link faint"
                    title={`${r.document}, line ${r.line}`}
                    onClick={() => onLine(r.line ?? 0, r.document ?? '')}
                  >
                    {r.line}
                  </button>
                ) : null}
              </span>
            </div>
          );
        })}
      </div>
    </div>
  );
}

function Example({
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
        <Problem error={example.error} />
      </div>
    );
  if (!example.data) return <div />;
  const { envelope, problems } = example.data;
  return (
    <div className={`scroll ${css.body}`}>
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
      <XmlText xml={envelope} />
    </div>
  );
}

export const name = (r: ShapeRow) =>
  (r.kind === 'attribute'
    ? `@${r.name}`
    : r.kind === 'any attribute'
      ? '@any attribute'
      : r.kind === 'choice'
        ? 'one of'
        : r.kind === 'group'
          ? 'group'
          : r.kind === 'any'
            ? 'any element'
            : r.header
              ? `header ${r.name}`
              : r.name) + (r.occurrence ? ` ${r.occurrence}` : '');
