import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import { api } from '../api/client';
import type { Flow, FlowView } from '../api/types';
import { count, when } from '../common/format';
import { Empty, ErrorText } from '../common/ui';
import { useUndo } from '../common/useUndo';
import { RunState, useRuns } from '../runs';
import { useFlows } from './queries';
import { allSteps } from './tree';
import { fitsLabels, LabelFilter, Labels, useAbout } from '../about';
import { useState } from 'react';

const START: Flow = {
  format: 2,
  steps: [
    { id: 's1', kind: 'read' },
    { id: 's2', kind: 'call', fill: [] },
    { id: 's3', kind: 'pick', as: 'result', columns: [] },
    { id: 's4', kind: 'write', from: '$result' },
  ],
};

/** One that is handed its records. */
const ASKED: Flow = {
  format: 2,
  steps: [
    { id: 's1', kind: 'receive', inputs: [], samples: [] },
    { id: 's2', kind: 'call', fill: [] },
    { id: 's3', kind: 'reply', from: '$reply', columns: [], whole: true },
  ],
};

const MOST_KINDS = 7;

/** The kinds of a flow's steps, those inside blocks included. */
function kindsOf(f: FlowView): string {
  const all = allSteps(f.definition.steps).map((s) => s.kind);
  return all.slice(0, MOST_KINDS).join(' → ') + (all.length > MOST_KINDS ? ` and ${all.length - MOST_KINDS} more` : '');
}

export function FlowList() {
  const go = useNavigate();
  const queries = useQueryClient();
  const undo = useUndo();
  const flows = useFlows();
  const about = useAbout();
  const [labels, setLabels] = useState<string[]>([]);
  const runs = useRuns(null);
  const make = useMutation({
    mutationFn: (definition: Flow) => {
      let n = 1;
      const names = new Set(flows.data?.map((f) => f.name));
      while (names.has(`New flow ${n}`)) n++;
      return api.post<{ id: number }>('/flows', { name: `New flow ${n}`, definition });
    },
    onSuccess: async (r) => {
      await queries.invalidateQueries();
      void go(`/flows/${r.id}`);
    },
  });
  const remove = useMutation({
    mutationFn: async (f: FlowView) => {
      await api.delete(`/flows/${f.id}`);
      return f;
    },
    onSuccess: async (f) => {
      await queries.invalidateQueries();
      undo(`Removed ${f.name}. Its runs stay.`, async () => {
        await api.post('/flows', { name: f.name, definition: f.definition });
        await queries.invalidateQueries();
      });
    },
  });
  if (flows.isPending) return null;
  if (flows.isError)
    return (
      <div className="page">
        <ErrorText error={flows.error} />
      </div>
    );
  const button = (
    <>
      <Button type="primary" loading={make.isPending} onClick={() => make.mutate(START)}>
        Make a flow
      </Button>{' '}
      <Button disabled={make.isPending} onClick={() => make.mutate(ASKED)}>
        One that others ask
      </Button>
    </>
  );
  if (flows.data.length === 0)
    return (
      <Empty title="No flow yet">
        <p>
          A flow reads records, calls an operation for each, picks results out of the answers and writes them. It starts
          with those four steps; you fill them in.
        </p>
        {button}
      </Empty>
    );
  return (
    <div className="page">
      <div className="head">
        <h1>Flows</h1>
        <LabelFilter kind="flow" chosen={labels} choose={setLabels} />
        <span className="push" />
        {button}
      </div>
      {make.isError && <ErrorText error={make.error} />}
      <div className="panel">
        <table className="grid">
          <thead>
            <tr>
              <th>name</th>
              <th>steps</th>
              <th className="n">version</th>
              <th>changed</th>
              <th>last run</th>
              <th className="n">read</th>
              <th className="n">done</th>
              <th className="n">set aside</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {flows.data
              .filter((f) => fitsLabels(about.of('flow', String(f.id)), labels))
              .map((f) => {
                const last = runs.data?.find((r) => r.flow === f.id);
                return (
                  <tr key={f.id} className="pick" onClick={() => void go(`/flows/${f.id}`)}>
                    <td>
                      <Link to={`/flows/${f.id}`} className="strong">
                        {f.name}
                      </Link>{' '}
                      <Labels of={about.of('flow', String(f.id)).labels} />
                      <div className="soft small">{about.of('flow', String(f.id)).description}</div>
                    </td>
                    <td className="soft">{kindsOf(f)}</td>
                    <td className="n">{f.version}</td>
                    <td className="soft nowrap">{when(f.changedAt)}</td>
                    <td className="nowrap">
                      {last ? (
                        <Link to={`/runs/${last.id}`} onClick={(e) => e.stopPropagation()}>
                          <RunState run={last} />
                        </Link>
                      ) : (
                        <span className="faint">never run</span>
                      )}
                    </td>
                    <td className="n">{last ? count(last.read) : ''}</td>
                    <td className="n">{last ? count(last.done) : ''}</td>
                    <td className="n">{last ? count(last.setAside) : ''}</td>
                    <td className="right">
                      <button
                        className="link faint small"
                        onClick={(e) => {
                          e.stopPropagation();
                          remove.mutate(f);
                        }}
                      >
                        remove
                      </button>
                    </td>
                  </tr>
                );
              })}
          </tbody>
        </table>
      </div>
    </div>
  );
}
