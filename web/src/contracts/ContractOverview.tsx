import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App, Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { ChangesView, ContractView } from '../api/types';
import { when } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import { ReadingNotes } from './ReadingNotes';
import css from './ContractOverview.module.css';
import { Ports } from './Ports';
import { UsedBy } from './UsedBy';

/**
 * What the contract offers at a glance: its ports side by side, what they ask for, who uses it, and what was wrong in
 * it.
 */
export function ContractOverview({
  contract: c,
  onLine,
}: {
  contract: ContractView;
  onLine: (line: number, document: string) => void;
}) {
  return (
    <div className={`scroll ${css.body}`}>
      <Source contract={c} />
      <Ports contract={c} />
      <UsedBy name={c.name} current={c.versions[0].version} />
      <ReadingNotes contract={c} onLine={onLine} />
    </div>
  );
}

function Source({ contract: c }: { contract: ContractView }) {
  const go = useNavigate();
  const queries = useQueryClient();
  const { modal } = App.useApp();
  const compare = useMutation({
    mutationFn: () => api.post<ChangesView>(`/contracts/${seg(c.name)}/compare`),
    onSuccess: (r) => {
      void queries.invalidateQueries();
      if (!r.isSame) {
        queries.setQueryData(['changes', c.name, 'source'], r);
        void go(`/contracts/${seg(c.name)}?show=changes`);
      }
    },
  });
  const isByHand = c.source === 'by hand';
  const remove = () =>
    modal.confirm({
      title: `Remove ${c.name}?`,
      content: 'All its versions go with it. Flows that call it will say so.',
      okText: 'Remove',
      okButtonProps: { danger: true },
      onOk: async () => {
        await api.delete(`/contracts/${seg(c.name)}`);
        await queries.invalidateQueries();
        void go('/contracts');
      },
    });
  return (
    <>
      <div className={`row wrap ${css.bar}`}>
        <span className={`soft cut ${css.wide}`} title={c.source}>
          {isByHand ? 'made by hand' : 'from '}
          {!isByHand && <span className="mono">{c.source}</span>}
        </span>
        {c.comparedAt && (
          <span className="soft small nowrap">
            compared {when(c.comparedAt)}: {c.compared}
          </span>
        )}
        <span className="push row">
          {/^https?:/.test(c.source ?? '') ? (
            <Button size="small" loading={compare.isPending} onClick={() => compare.mutate()}>
              Compare with the source
            </Button>
          ) : (
            <Link to={isByHand ? `/contracts/${seg(c.name)}/by-hand` : `/contracts/import?name=${seg(c.name)}`}>
              <Button size="small">{isByHand ? 'Change it' : 'Import it again'}</Button>
            </Link>
          )}
          <Button size="small" type="text" onClick={remove}>
            Remove
          </Button>
        </span>
      </div>
      {compare.data?.isSame && (
        <div className={css.inset}>
          <Status mood="ok">the source says the same as version {c.versions[0].version}</Status>
        </div>
      )}
      {compare.isError && (
        <div className={css.inset2}>
          <ErrorText error={compare.error} />
        </div>
      )}
    </>
  );
}
