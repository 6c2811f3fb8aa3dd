import { Link, useNavigate } from 'react-router';
import { count, duration, millis, when } from '../common/format';
import { Empty, ErrorText } from '../common/ui';
import { RunState, scopeWords } from './RunState';
import { useRuns } from './queries';

export function RunList() {
  const go = useNavigate();
  const runs = useRuns(null, { everyMillis: 3_000 });
  if (runs.isPending) return null;
  if (runs.isError)
    return (
      <div className="page">
        <ErrorText error={runs.error} />
      </div>
    );
  if (runs.data.length === 0)
    return (
      <Empty title="No run yet">
        <p>
          Open a flow and run it on its specimen first, then on the first ten records, then on all. Every run is kept
          here with the fate of each record.
        </p>
        <Link to="/flows">Go to the flows</Link>
      </Empty>
    );
  return (
    <div className="page">
      <div className="head">
        <h1>Runs</h1>
      </div>
      <div className="panel">
        <table className="grid">
          <thead>
            <tr>
              <th className="n">run</th>
              <th>flow</th>
              <th>over</th>
              <th>environment</th>
              <th>started</th>
              <th>state</th>
              <th className="n">read</th>
              <th className="n">done</th>
              <th className="n">set aside</th>
              <th className="n">in doubt</th>
              <th className="n">took</th>
              <th className="n">half of calls under</th>
            </tr>
          </thead>
          <tbody>
            {runs.data.map((r) => (
              <tr key={r.id} className="pick" onClick={() => void go(`/runs/${r.id}`)}>
                <td className="n">
                  <Link to={`/runs/${r.id}`}>{r.id}</Link>
                </td>
                <td className="strong">
                  {r.flowName} <span className="faint light">v{r.flowVersion}</span>
                </td>
                <td className="soft nowrap">{scopeWords(r.scope)}</td>
                <td className="soft">{r.environment}</td>
                <td className="soft nowrap">
                  {when(r.startedAt)} by {r.startedBy}
                </td>
                <td>
                  <RunState run={r} />
                </td>
                <td className="n">{count(r.read)}</td>
                <td className="n">{count(r.done)}</td>
                <td className="n">{count(r.setAside)}</td>
                <td className="n">{count(r.inDoubt)}</td>
                <td className="n nowrap">{duration(r.workedMillis)}</td>
                <td className="n nowrap">{r.halfMillis != null ? millis(r.halfMillis) : ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
