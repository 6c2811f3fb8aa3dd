import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App, Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { ChangesView, ContractView, PortView } from '../api/types';
import { plural, when } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import { ReadingNotes } from './ReadingNotes';
import css from './ContractOverview.module.css';
import { connectionName } from '../connections';
import { useUses } from './queries';

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
          from <span className="mono">{c.source}</span>
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
            <Link to={`/contracts/import?name=${seg(c.name)}`}>
              <Button size="small">Import it again</Button>
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

const Heading = ({ children }: { children: React.ReactNode }) => <h2 className={css.heading}>{children}</h2>;

/** Where ports differ the difference stands out; where they agree it is said once. */
function Ports({ contract: c }: { contract: ContractView }) {
  const go = useNavigate();
  const ports = c.services.flatMap((s) => s.ports.map((p) => ({ service: s.name, p })));
  const usable = ports.filter(({ p }) => p.operations.some((o) => !o.unusable));
  const styles = (p: PortView) => [...new Set(p.operations.map((o) => `${o.style} / ${o.use}`))].join(', ');
  const open = (p: PortView) => {
    const o = p.operations.find((x) => !x.unusable) ?? p.operations[0];
    if (o) void go(`/contracts/${seg(c.name)}/${seg(p.name)}/${seg(o.name)}`);
  };
  const offer = (p: PortView) => {
    const asked = p.requirements.filter((r) => r.setting).map((r) => `&ask=${r.setting}`);
    return `/connections/new?name=${seg(connectionName(c.name))}&url=${seg(p.address ?? '')}${asked.join('')}`;
  };
  return (
    <>
      <Heading>
        {usable.length === 1
          ? 'One port can be called'
          : `${usable.length} of ${plural(ports.length, 'port')} can be called`}
      </Heading>
      <table className="grid">
        <thead>
          <tr>
            <th>service</th>
            <th>port</th>
            <th>protocol</th>
            <th>style</th>
            <th className="n">operations</th>
            <th>address</th>
            <th>asks for</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {ports.map(({ service, p }) => (
            <tr key={`${service}/${p.name}`} className="pick" onClick={() => open(p)}>
              <td className="soft">{service}</td>
              <td>
                <button className="link strong">{p.name}</button>
              </td>
              <td className="nowrap">{p.protocol}</td>
              <td className="nowrap">{styles(p)}</td>
              <td className="n nowrap">
                {p.operations.length}
                {p.operations.some((o) => o.unusable) && (
                  <span
                    className={`st bad ${css.gap}`}
                    title={p.operations
                      .filter((o) => o.unusable)
                      .map((o) => `${o.name}: ${o.unusable}`)
                      .join('\n')}
                  >
                    {p.operations.filter((o) => o.unusable).length} unusable
                  </span>
                )}
              </td>
              <td className={`mono ${css.cell}`}>
                <div className="cut" title={p.address}>
                  {p.address ?? <span className="faint">none; the connection gives it</span>}
                </div>
              </td>
              <td className={`soft ${css.cell2}`}>
                {p.requirements.length === 0 ? (
                  <span className="faint">nothing more</span>
                ) : (
                  p.requirements.map((r) => (
                    <div key={r.text}>
                      {r.text}
                      {r.isOptional ? ', optional' : ''}
                      {!r.setting && (
                        <span className="faint small" title="A call that needs it has to be written as XML">
                          {' '}
                          (no setting for it)
                        </span>
                      )}
                    </div>
                  ))
                )}
              </td>
              <td className="nowrap" onClick={(e) => e.stopPropagation()}>
                {p.operations.some((o) => !o.unusable) && (
                  <Link
                    className="soft small"
                    to={offer(p)}
                    title="Prefilled with the address and what the port asks for"
                  >
                    make a connection
                  </Link>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function UsedBy({ name, current }: { name: string; current: number }) {
  const uses = useUses();
  const mine = (uses.data ?? []).filter((u) => u.contract === name);
  return (
    <>
      <Heading>Used by</Heading>
      {mine.length === 0 ? (
        <div className={`soft ${css.inset3}`}>No flow calls it yet.</div>
      ) : (
        mine.map((u) => (
          <div key={`${u.flow}/${u.step}`} className={`row ${css.inset3}`}>
            <Link to={`/flows/${u.flow}?step=${u.step}`}>{u.name}</Link>
            <span className="soft">
              step {u.step}, {u.operation}
            </span>
            {u.version && u.version !== current ? (
              <Link className="st warn" to={`/contracts/${seg(name)}?show=changes&from=${u.version}&to=${current}`}>
                made for version {u.version}
              </Link>
            ) : (
              <span className="faint small">version {u.version ?? current}</span>
            )}
          </div>
        ))
      )}
    </>
  );
}
