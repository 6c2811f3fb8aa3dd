import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { api } from '../api/client';
import type { Specimen, Tree, TriedCall } from '../api/types';
import { count } from '../common/format';
import { TreeView } from '../common/TreeView';
import { Problem } from '../common/ui';
import type { Where } from './where';

/** The record before and after the step. Fields can be dragged into a value. */
export function SpecimenSide({
  specimen,
  error,
  number,
  total,
  setNumber,
  where,
}: {
  specimen?: Specimen;
  error: unknown;
  number: number;
  total?: number | null;
  setNumber: (n: number) => void;
  where: Where;
}) {
  const steps = where.definition.steps;
  const call = steps.findLastIndex((s, i) => s.kind === 'call' && i <= where.step);
  const used = new Set(
    steps.flatMap((s) =>
      s.kind === 'call'
        ? s.fill.flatMap((r) => r.xpath?.match(/[\p{L}_][\p{L}\p{N}_.-]*/gu) ?? [])
        : s.kind === 'pick'
          ? s.columns.flatMap((c) => c.xpath?.match(/(?<=\$record\/)[\p{L}_][\p{L}\p{N}_.-]*/gu) ?? [])
          : [],
    ),
  );
  return (
    <aside className="scroll" style={{ borderLeft: '1px solid var(--line)', padding: '12px 0' }}>
      <div className="row" style={{ padding: '0 14px 6px' }}>
        <h2>Specimen</h2>
        <span className="push row num" style={{ gap: 2 }}>
          <Button
            type="text"
            size="small"
            aria-label="previous record"
            title="["
            disabled={number <= 1}
            onClick={() => setNumber(number - 1)}
          >
            ‹
          </Button>
          <span className="soft">
            {count(number)}
            {total != null ? ` of ${count(total)}` : ''}
          </span>
          <Button
            type="text"
            size="small"
            aria-label="next record"
            title="]"
            disabled={total != null && number >= total}
            onClick={() => setNumber(number + 1)}
          >
            ›
          </Button>
        </span>
      </div>
      {error ? (
        <div style={{ padding: '0 14px' }}>
          <Problem error={error} />
        </div>
      ) : null}
      {!specimen && !error && (
        <div className="soft small" style={{ padding: '0 14px' }}>
          Choose a source in the first step; its records appear here.
        </div>
      )}
      {specimen && !specimen.record && (
        <div className="soft small" style={{ padding: '0 14px' }}>
          There is no record {number}.
        </div>
      )}
      {specimen?.record && (
        <table className="grid fixed">
          <tbody>
            {(specimen.record as Tree).children?.map((c, i) => (
              <tr
                key={i}
                draggable
                onDragStart={(e) => e.dataTransfer.setData('text/plain', c.name)}
                style={{ cursor: 'grab' }}
              >
                <td
                  className="mono cut"
                  style={{ paddingLeft: 14, width: 104, color: used.has(c.name) ? 'var(--copper)' : undefined }}
                  title={`${c.name}${used.has(c.name) ? ', used in this flow' : ''}; drag it into a value`}
                >
                  {c.name}
                </td>
                <td className="cut" title={c.text}>
                  {c.children ? (
                    <span className="faint">{c.children.length} inside</span>
                  ) : (
                    c.text || <span className="faint">blank</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {call >= 0 && <Kept flow={where.flow} step={call} />}
    </aside>
  );
}

function Kept({ flow, step }: { flow: number; step: number }) {
  const answer = useQuery({
    queryKey: ['kept', flow, step],
    retry: false,
    queryFn: () => api.get<TriedCall>(`/design/${flow}/answers/${step}`).catch(() => null),
  });
  return (
    <div style={{ padding: '16px 14px 0' }}>
      <h2>Kept answer, $reply</h2>
      {answer.data?.reply ? (
        <div style={{ marginTop: 6, overflowX: 'auto' }}>
          <TreeView root={answer.data.reply as Tree} />
        </div>
      ) : (
        <div className="soft small">Try the call once; its answer is kept for the steps after it.</div>
      )}
    </div>
  );
}
