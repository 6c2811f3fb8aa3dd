import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useParams } from 'react-router';
import { api, seg } from '../../api/client';
import { ErrorText, Status } from '../../common/ui';
import type { HandMade } from './handMade';
import { OperationForm } from './OperationForm';
import { useHandMade } from './useHandMade';
import css from './HandMadePage.module.css';

/** Operations of plain HTTP for which nobody has a description: said once here, and then like any others. */
export function HandMadePage() {
  const { name } = useParams();
  const kept = useQuery({
    queryKey: ['hand-made', name],
    enabled: !!name,
    queryFn: () => api.get<HandMade>(`/contracts/${seg(name ?? '')}/by-hand`),
    gcTime: 0,
    refetchOnWindowFocus: false,
  });
  if (name && kept.isPending) return null;
  if (kept.isError)
    return (
      <div className="page">
        <ErrorText error={kept.error} />
      </div>
    );
  return <Desk key={name ?? ''} name={name ?? ''} kept={kept.data ?? null} />;
}

function Desk({ name, kept }: { name: string; kept: HandMade | null }) {
  const h = useHandMade(name, kept);
  return (
    <div className={css.columns}>
      <aside className={`side ${css.side}`}>
        <div className={css.about}>
          <label className="field-label" htmlFor="contract-name">
            Contract
          </label>
          <Input
            id="contract-name"
            autoFocus={!name}
            disabled={!!name}
            placeholder="a name, such as CrewLedger"
            value={h.called}
            onChange={(e) => h.setCalled(e.target.value)}
          />
          <label className="field-label" htmlFor="contract-address">
            Address
          </label>
          <Input
            id="contract-address"
            className="mono"
            placeholder="https://…, or by the connection"
            value={h.made.address ?? ''}
            onChange={(e) => h.setAddress(e.target.value)}
          />
        </div>
        {h.operations.map((o, i) => (
          <button key={i} className={`item ${o === h.chosen ? 'on' : ''}`} onClick={() => h.choose(i)}>
            <span className="cut">{o.name || 'no name yet'}</span>
            <span className="faint nowrap small">{o.method}</span>
          </button>
        ))}
        <button className="item soft" onClick={h.add}>
          another operation
        </button>
      </aside>
      <section className={css.frame}>
        <div className={`row ${css.bar}`}>
          <h1 className="nowrap">{h.chosen.name || 'An operation'}</h1>
          {h.preview?.problem ? (
            <Status mood="warn">{h.preview.problem}</Status>
          ) : (
            <Status mood="ok">can be kept</Status>
          )}
          <span className="push" />
          {h.operations.length > 1 && (
            <Button type="text" onClick={h.remove}>
              Remove it
            </Button>
          )}
          <Button type="primary" disabled={!h.called.trim()} loading={h.keep.isPending} onClick={() => h.keep.mutate()}>
            Keep and try it
          </Button>
        </div>
        {h.keep.isError && (
          <div className={css.inset}>
            <ErrorText title="Nothing was kept." error={h.keep.error} />
          </div>
        )}
        <OperationForm model={h} />
      </section>
    </div>
  );
}
