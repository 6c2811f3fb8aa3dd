import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Checkbox, Select } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { Change, ChangesView, ContractView } from '../api/types';
import { plural, when } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import css from './Changes.module.css';

/** What changed between two versions, or against the source: each change rated, and the flows it touches. */
export function Changes({ contract: c, from, to }: { contract: ContractView; from?: number; to?: number }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const newest = c.versions[0].version;
  const source = queries.getQueryData<ChangesView>(['changes', c.name, 'source']);
  const isSource = !from && !!source && source.from === newest;
  const a = from ?? Math.max(1, newest - 1);
  const b = to ?? newest;
  const stored = useQuery({
    queryKey: ['changes', c.name, a, b],
    enabled: !isSource && newest > 1,
    queryFn: () => api.get<ChangesView>(`/contracts/${seg(c.name)}/changes?from=${a}&to=${b}`),
  });
  const take = useMutation({
    mutationFn: () =>
      api.post<{ name: string; version: number }>('/contracts', {
        url: c.source,
        name: c.name,
        connection: c.connection,
      }),
    onSuccess: async (r) => {
      queries.removeQueries({ queryKey: ['changes', c.name, 'source'] });
      await queries.invalidateQueries();
      void message.success(`Kept as version ${r.version}; flows stay with theirs`);
      void go(`/contracts/${seg(c.name)}?show=changes&from=${newest}&to=${r.version}`);
    },
  });
  if (newest === 1 && !isSource) {
    return (
      <div className="empty">
        <h1>There is one version so far</h1>Import the description again when it has changed, or compare it with its
        source from the overview. What changed is shown here, with the flows it touches; they stay with the version they
        were made for until you move them.
      </div>
    );
  }
  const view = isSource ? source : stored.data;
  const choose = (x: number, y: number) => void go(`/contracts/${seg(c.name)}?show=changes&from=${x}&to=${y}`);
  const versions = c.versions.map((v) => ({ value: v.version, label: `version ${v.version}, ${when(v.readAt)}` }));
  const breaking = view?.changes.filter((x) => x.isBreaking).length ?? 0;
  return (
    <div className={`scroll ${css.body}`}>
      <div className={`row wrap ${css.bar}`}>
        {isSource ? (
          <>
            <span>Version {newest} against the source as it is now</span>
            <Button size="small" type="primary" loading={take.isPending} onClick={() => take.mutate()}>
              Keep as version {newest + 1}
            </Button>
          </>
        ) : (
          <>
            <Select
              size="small"
              aria-label="from version"
              className={css.fromVersion}
              value={a}
              options={versions}
              onChange={(v) => choose(v, b)}
            />
            <span className="soft">to</span>
            <Select
              size="small"
              aria-label="to version"
              className={css.fromVersion}
              value={b}
              options={versions}
              onChange={(v) => choose(a, v)}
            />
          </>
        )}
        {view && (
          <span className="push">
            {view.isSame ? (
              <Status mood="ok">nothing that matters to messages changed</Status>
            ) : breaking ? (
              <Status mood="bad">{breaking} breaking</Status>
            ) : (
              <Status mood="ok">all harmless</Status>
            )}
            {!view.isSame && (
              <span className="soft num"> of {plural(view.changes.length + view.notListed, 'change')}</span>
            )}
          </span>
        )}
      </div>
      {stored.isError && (
        <div className={css.inset}>
          <ErrorText error={stored.error} />
        </div>
      )}
      {take.isError && (
        <div className={css.inset}>
          <ErrorText error={take.error} />
        </div>
      )}
      {view && view.changes.length > 0 && <ChangeTable changes={view.changes} />}
      {view && view.notListed > 0 && (
        <div className={`soft ${css.inset2}`}>{plural(view.notListed, 'further change')} not listed.</div>
      )}
      {view && view.affected.length > 0 && <Affected contract={c.name} view={view} />}
    </div>
  );
}

const VERBS = { ADDED: 'added', REMOVED: 'removed', CHANGED: 'changed' };

function ChangeTable({ changes }: { changes: Change[] }) {
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

/** Flows still on an older version. They keep running with it; moving one takes one click, renames included. */
function Affected({ contract, view }: { contract: string; view: ChangesView }) {
  return (
    <>
      <h2 className={css.heading}>Flows made for an older version</h2>
      <div className={`soft small ${css.inset3}`}>
        They go on with the version they were made for until you move them.
      </div>
      {view.affected.map((a) => (
        <AffectedFlow key={`${a.use.flow}/${a.use.step}`} contract={contract} view={view} affected={a} />
      ))}
    </>
  );
}

function AffectedFlow({
  contract,
  view,
  affected: a,
}: {
  contract: string;
  view: ChangesView;
  affected: ChangesView['affected'][number];
}) {
  const queries = useQueryClient();
  const [renames, setRenames] = useState(() => a.renames.map(() => true));
  const move = useMutation({
    mutationFn: () =>
      api.post(`/contracts/${seg(contract)}/take`, {
        version: view.to,
        flows: [a.use.flow],
        renames: a.renames.filter((_, i) => renames[i]),
      }),
    onSuccess: () => queries.invalidateQueries(),
  });
  const isRenamed = (path?: string) =>
    a.renames.some((r, i) => renames[i] && path && (r.from === path || r.to === path));
  const open = a.touched.filter((t) => t.change.isBreaking && !isRenamed(t.change.path));
  return (
    <div className={css.foot}>
      <div className="row">
        <Link to={`/flows/${a.use.flow}?step=${a.use.step}`} className="strong">
          {a.use.name}
        </Link>
        <span className="soft">
          step {a.use.step}, {a.use.operation}
          {a.use.version ? `, version ${a.use.version}` : ''}
        </span>
        {open.length ? (
          <Status mood="bad">{plural(open.length, 'row')} to mend</Status>
        ) : a.touched.length ? (
          <Status mood="warn">{plural(a.touched.length, 'row')} touched</Status>
        ) : (
          <Status mood="ok">not touched</Status>
        )}
        {view.to != null && (
          <span className="push">
            <Button size="small" loading={move.isPending} onClick={() => move.mutate()}>
              Move to version {view.to}
            </Button>
          </span>
        )}
      </div>
      {a.touched.map((t, i) => (
        <div key={i} className={`small ${css.inset4}`}>
          <span className="soft">{t.where}</span> <span className="mono">{t.row}</span>{' '}
          <span className="soft">
            {t.change.what} {VERBS[t.change.kind]}
            {t.change.before || t.change.after ? `: ${t.change.before ?? '–'} → ${t.change.after ?? '–'}` : ''}.{' '}
            {t.change.why}
          </span>
        </div>
      ))}
      {a.renames.map((r, i) => (
        <div key={i} className={`small ${css.inset4}`}>
          <Checkbox
            checked={renames[i]}
            onChange={(e) => setRenames(renames.map((x, j) => (j === i ? e.target.checked : x)))}
          >
            <span className="mono">{r.from.split('/').pop()}</span> is now{' '}
            <span className="mono">{r.to.split('/').pop()}</span>, <span className="soft">since {r.why}: follow</span>
          </Checkbox>
        </div>
      ))}
      {move.isError && <ErrorText error={move.error} />}
    </div>
  );
}
