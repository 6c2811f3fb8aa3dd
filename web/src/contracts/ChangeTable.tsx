import type { Change } from '../api/types';
import { plural } from '../common/format';
import { Status } from '../common/ui';
import css from './ChangeTable.module.css';

export const VERBS = { ADDED: 'added', REMOVED: 'removed', CHANGED: 'changed' };

export function ChangeTable({ changes }: { changes: Change[] }) {
  const sorted = [...changes].sort((x, y) => Number(y.isBreaking) - Number(x.isBreaking));
  return (
    <table className="grid">
      <thead>
        <tr>
          <th className={css.cell}>rating</th>
          <th className={css.cell2}>what</th>
          <th>where</th>
          <th className={css.cell3}>before → after</th>
          <th className={css.cell4}>why</th>
        </tr>
      </thead>
      <tbody>
        {sorted.map((x, i) => (
          <tr key={i}>
            <td>{x.isBreaking ? <Status mood="bad">breaking</Status> : <Status mood="ok">harmless</Status>}</td>
            <td>
              {x.what} {VERBS[x.kind]}
            </td>
            <td className="breaks">
              {x.path ? (
                <>
                  <span className="mono">{x.path}</span>{' '}
                  <span className="faint small">
                    {x.part?.replace(':', ' ')} of {x.operation}
                  </span>
                </>
              ) : (
                <>
                  <span className="mono">{x.operation ?? x.port}</span>
                  {x.operation && <span className="faint small"> at {x.port}</span>}
                </>
              )}
              {x.alsoIn > 0 && <span className="faint small"> and in {plural(x.alsoIn, 'more place')}</span>}
            </td>
            <td className="small breaks">
              {x.before ?? <span className="faint">–</span>} → {x.after ?? <span className="faint">–</span>}
            </td>
            <td className="soft">{x.why}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
