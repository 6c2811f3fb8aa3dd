import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Input } from 'antd';
import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { ContractView, Hit, OperationView, PortView } from '../api/types';
import { plural, when } from '../common/format';
import css from './ContractIndex.module.css';
import { fitsText, isLong, ranked, useFirst } from './first';

const size = (o: OperationView) =>
  o.unusable ? 'unusable' : o.direction === 'one way' ? 'one way' : `${o.requestFields} → ${o.answerFields ?? 0}`;

/** All services, ports and operations, searched by name and documentation, down to the fields of their messages. */
export function ContractIndex({
  contract: c,
  port,
  operation,
  keep,
}: {
  contract: ContractView;
  port?: PortView;
  operation?: OperationView;
  keep: string;
}) {
  const go = useNavigate();
  const [text, setText] = useState('');
  const ports = useMemo(() => c.services.flatMap((s) => s.ports), [c]);
  const base = `/contracts/${seg(c.name)}`;
  const to = (path: string, query = '') =>
    void go(`${base}${path}${keep || query ? `?${[keep, query].filter(Boolean).join('&')}` : ''}`);
  const first = ports.find((p) => p.operations.some((o) => !o.unusable)) ?? ports[0];
  const same = (p: PortView) =>
    first !== p &&
    p.operations.length > 0 &&
    p.operations.map((o) => o.name).join() === first.operations.map((o) => o.name).join();
  const isFirst = useFirst(c.name);
  const many = ports.some((p) => isLong(p.operations, isFirst));
  const [all, setAll] = useState(false);
  const fold = { isFirst, isFolded: many && !all && !text, keep: operation };
  const fields = useQuery({
    queryKey: ['search', c.name, c.versions[0].version, text],
    enabled: text.trim().length > 1,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => api.get<Hit[]>(`${base}/search?text=${seg(text)}`, signal),
  });
  return (
    <aside className="side" aria-label="contract">
      <div className="hd">
        <h1 className="cut" title={c.name}>
          {c.name}
        </h1>
        <span className="soft small">
          version {c.version} · read {when(c.readAt)}
        </span>
      </div>
      <div className="hd">
        <Input
          size="small"
          allowClear
          aria-label="search"
          placeholder="search operations and fields"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </div>
      {!text && (
        <button className={`item ${operation ? '' : 'on'}`} onClick={() => to('')}>
          <span>The whole contract</span>
        </button>
      )}
      {ports.map((p) => {
        const shown = p.operations.filter((o) => fitsText(o, text));
        return (
          <div key={p.name}>
            {(!text || shown.length > 0) && (
              <div className={`row soft small ${css.bar}`}>
                <span className="cut">
                  port <b className={css.box}>{p.name}</b>
                </span>
                <span className="nowrap">{p.protocol}</span>
              </div>
            )}
            {same(p) && p !== port && !text ? (
              <button
                className="item soft"
                onClick={() => to(`/${seg(p.name)}/${seg(operation?.name ?? p.operations[0].name)}`)}
              >
                <span>the same {plural(p.operations.length, 'operation')}</span>
              </button>
            ) : (
              ranked(shown, fold).map((o) => (
                <button
                  key={o.name}
                  className={`item ${p === port && o === operation ? 'on' : ''}`}
                  onClick={() => to(`/${seg(p.name)}/${seg(o.name)}`)}
                >
                  <span className="cut" title={o.unusable ?? o.documentation}>
                    {o.name}
                  </span>
                  <span className="faint nowrap num" title="fields in the request → in the answer">
                    {size(o)}
                  </span>
                </button>
              ))
            )}
          </div>
        );
      })}
      {many && !text && (
        <button className="item soft" onClick={() => setAll(!all)}>
          {all ? 'only those in use or marked' : 'all operations'}
        </button>
      )}
      {text.trim().length > 1 && (
        <Fields
          hits={fields.data ?? []}
          open={(h) =>
            to(
              `/${seg(h.port)}/${seg(h.operation)}`,
              `show=shapes&part=${seg(h.part)}&at=${seg(h.path)}${Object.entries(h.kinds ?? {})
                .map(([p, k]) => `&kind=${seg(`${p}=${k}`)}`)
                .join('')}`,
            )
          }
        />
      )}
    </aside>
  );
}

function Fields({ hits, open }: { hits: Hit[]; open: (h: Hit) => void }) {
  return (
    <div>
      <div className={`row soft small ${css.bar}`}>
        <span>fields</span>
        <span className="num">{hits.length === 100 ? 'the first 100' : hits.length}</span>
      </div>
      {hits.map((h, i) => (
        <button key={i} className={`item ${css.action}`} title={h.documentation} onClick={() => open(h)}>
          <span className="mono">{h.path.split('/').pop()}</span>{' '}
          <span className="faint small">
            {h.operation}, {h.part.replace(':', ' ')}
          </span>
          {h.documentation && <span className={`soft small cut ${css.note}`}>{h.documentation}</span>}
        </button>
      ))}
    </div>
  );
}
