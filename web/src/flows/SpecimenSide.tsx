import { Button } from 'antd';
import type { Specimen } from '../api/types';
import { count } from '../common/format';
import { TreeView } from '../common/TreeView';
import { ErrorText } from '../common/ui';
import { useKeptAnswer, useReadAgain } from './queries';
import { nearest, type Where } from './where';
import css from './SpecimenSide.module.css';

/** The record before and after the step. Fields can be dragged into a value. */
export function SpecimenSide({
  specimen,
  error,
  total,
  setNumber,
  where,
}: {
  specimen?: Specimen;
  error: unknown;
  total?: number | null;
  setNumber: (n: number) => void;
  where: Where;
}) {
  const steps = where.definition.steps;
  const number = where.number;
  const call = nearest(where, 'call', true);
  const again = useReadAgain(where);
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
    <aside className={`scroll ${css.body}`} aria-label="specimen">
      <div className={`row ${css.bar}`}>
        <h2>Specimen</h2>
        <span className={`push row num ${css.bar2}`}>
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
        <div className={css.inset}>
          <ErrorText error={error} />
        </div>
      ) : null}
      {!specimen && !error && (
        <div className={`soft small ${css.inset}`}>Choose a source in the first step; its records appear here.</div>
      )}
      {specimen && !specimen.record && <div className={`soft small ${css.inset}`}>There is no record {number}.</div>}
      {specimen && (
        <div className={`small ${css.inset}`}>
          <button
            className="link soft"
            title="Reads the source again, if what it gives has changed"
            disabled={again.isPending}
            onClick={() => again.mutate()}
          >
            read again
          </button>
        </div>
      )}
      {specimen?.record && (
        <table className="grid fixed">
          <tbody>
            {specimen.record.children?.map((c, i) => (
              <tr
                key={i}
                draggable
                onDragStart={(e) => e.dataTransfer.setData('text/plain', c.name)}
                className={css.box}
              >
                <td
                  className={`mono cut ${css.field} ${used.has(c.name) ? css.used : ''}`}
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
      {call && <Kept flow={where.flow} step={call.id} />}
    </aside>
  );
}

function Kept({ flow, step }: { flow: number; step: string }) {
  const answer = useKeptAnswer(flow, step);
  return (
    <div className={css.inset2}>
      <h2>Kept answer, $reply</h2>
      {answer.data?.reply ? (
        <div className={css.box2}>
          <TreeView root={answer.data.reply} />
        </div>
      ) : (
        <div className="soft small">Try the call once; its answer is kept for the steps after it.</div>
      )}
    </div>
  );
}
