import { Button } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import { seg } from '../api/client';
import type { TriggerView } from '../api/types';
import { useEnvironment } from '../app/environment';
import { Empty, ErrorText, Status } from '../common/ui';
import { fresh, until } from './draft';
import { useTriggers } from './queries';
import { ScheduleEditor } from './ScheduleEditor';

const NEW = 'new';

/** What starts flows by themselves, and the one that is open below. */
export function PublishedPage() {
  const { name } = useParams();
  const go = useNavigate();
  const environment = useEnvironment();
  const triggers = useTriggers();
  if (triggers.isPending) return null;
  if (triggers.isError)
    return (
      <div className="page">
        <ErrorText error={triggers.error} />
      </div>
    );
  const open = triggers.data.find((t) => t.name === name);
  const add = (
    <Button type="primary" onClick={() => void go(`/published/${NEW}`)}>
      Add a schedule
    </Button>
  );
  if (triggers.data.length === 0 && name !== NEW)
    return (
      <Empty title="Nothing starts by itself yet">
        <p>A schedule runs a flow at times of the clock, or every so many minutes, on all its records.</p>
        {add}
      </Empty>
    );
  return (
    <div className="page">
      <div className="head">
        <h1>Published</h1>
        <span className="push" />
        {name !== NEW && add}
      </div>
      {triggers.data.length > 0 && <Triggers all={triggers.data} open={name} now={triggers.dataUpdatedAt} />}
      {name === NEW ? (
        <ScheduleEditor key={NEW} begin={fresh(environment)} taken={[NEW, ...triggers.data.map((t) => t.name)]} />
      ) : (
        open && <ScheduleEditor key={open.name} kept={open} />
      )}
    </div>
  );
}

function Triggers({ all, open, now }: { all: TriggerView[]; open?: string; now: number }) {
  const go = useNavigate();
  return (
    <div className="panel">
      <table className="grid">
        <thead>
          <tr>
            <th>name</th>
            <th>when</th>
            <th>runs</th>
            <th>environment</th>
            <th>state</th>
            <th>last</th>
          </tr>
        </thead>
        <tbody>
          {all.map((t) => (
            <tr
              key={t.name}
              className={`pick ${t.name === open ? 'on' : ''}`}
              onClick={() => void go(`/published/${seg(t.name)}`)}
            >
              <td className="strong">
                <Link to={`/published/${seg(t.name)}`}>{t.name}</Link>
              </td>
              <td>{t.times.words}</td>
              <td>
                <Link to={`/flows/${t.flow}`} onClick={(e) => e.stopPropagation()}>
                  {t.flowName}
                </Link>
              </td>
              <td className="soft">{t.environment}</td>
              <td className="nowrap">
                <State of={t} now={now} />
              </td>
              <td>
                <Last of={t} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function State({ of, now }: { of: TriggerView; now: number }) {
  if (!of.on) return <Status mood="idle">paused by {of.changedBy}</Status>;
  const next = of.times.next.at(0);
  return next ? <Status mood="ok">{until(next, now)}</Status> : <Status mood="warn">never again</Status>;
}

/** What came of the latest thing it was due for. */
function Last({ of }: { of: TriggerView }) {
  const last = of.starts.at(0);
  if (!last) return <span className="faint">not yet</span>;
  return last.run == null ? (
    <Status mood="warn">{last.reason}</Status>
  ) : (
    <Link to={`/runs/${last.run}`} onClick={(e) => e.stopPropagation()}>
      run {last.run}
    </Link>
  );
}
