import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Select } from 'antd';
import { useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { ChangesView, ContractView } from '../api/types';
import { plural, when } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import css from './Changes.module.css';
import { ChangeTable } from './ChangeTable';
import { Affected } from './AffectedFlows';

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
