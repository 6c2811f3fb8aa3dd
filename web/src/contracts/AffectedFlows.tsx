import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { api, seg } from '../api/client';
import type { ChangesView } from '../api/types';
import { plural } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import css from './AffectedFlows.module.css';
import { VERBS } from './ChangeTable';

/** Flows still on an older version. They keep running with it; moving one takes one click, renames included. */
export function Affected({ contract, view }: { contract: string; view: ChangesView }) {
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
