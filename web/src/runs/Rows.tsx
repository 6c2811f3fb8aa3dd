import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Api, RunView } from '../api/types';
import { Empty, ErrorText } from '../common/ui';
import css from './Lines.module.css';

type Page = Api<'WrittenRows'>;

/** The rows that a write step wrote in this run, each beside the record it came from. */
export function Rows({ run, step, onTrail }: { run: RunView; step: string; onTrail: (n: number) => void }) {
  const pages = useInfiniteQuery({
    queryKey: ['rows', run.id, step, run.written],
    placeholderData: keepPreviousData,
    initialPageParam: 0,
    queryFn: ({ pageParam }) => api.get<Page>(`/runs/${run.id}/rows?step=${seg(step)}&from=${pageParam}`),
    getNextPageParam: (p) => p.next ?? undefined,
  });
  const rows = pages.data?.pages.flatMap((p) => p.rows) ?? [];
  const columns = [...new Set(rows.flatMap((r) => Object.keys(r.row)))];
  if (pages.isSuccess && rows.length === 0 && !pages.hasNextPage)
    return (
      <Empty title="This step has written nothing">
        A record's rows are written when it is done. Runs of earlier versions did not keep them.
      </Empty>
    );
  return (
    <div className={css.frame}>
      {pages.isError && <ErrorText error={pages.error} />}
      <div className="scroll">
        <table className="grid" aria-label="written rows">
          <thead>
            <tr>
              <th className={`n ${css.number}`}>record</th>
              {columns.map((c) => (
                <th key={c} className="mono">
                  {c}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((r, i) => (
              <tr key={i}>
                <td className="n">
                  <button className="link num" onClick={() => onTrail(r.number)}>
                    {r.number}
                  </button>
                </td>
                {columns.map((c) => (
                  <td key={c} className="mono nowrap">
                    {r.row[c] ?? ''}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
        {pages.hasNextPage && (
          <button className="link" onClick={() => void pages.fetchNextPage()}>
            more rows
          </button>
        )}
      </div>
    </div>
  );
}
