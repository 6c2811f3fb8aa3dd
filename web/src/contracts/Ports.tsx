import { Link, useNavigate } from 'react-router';
import { seg } from '../api/client';
import type { ContractView, PortView } from '../api/types';
import { plural } from '../common/format';
import css from './Ports.module.css';
import { connectionName } from '../connections';
import { Heading } from './Heading';

/** Where ports differ the difference stands out; where they agree it is said once. */
export function Ports({ contract: c }: { contract: ContractView }) {
  const go = useNavigate();
  const ports = c.services.flatMap((s) => s.ports.map((p) => ({ service: s.name, p })));
  const usable = ports.filter(({ p }) => p.operations.some((o) => !o.unusable));
  const styles = (p: PortView) =>
    [...new Set(p.operations.map((o) => (o.http ? '' : `${o.style} / ${o.use}`)))].join(', ');
  const open = (p: PortView) => {
    const o = p.operations.find((x) => !x.unusable) ?? p.operations[0];
    if (o) void go(`/contracts/${seg(c.name)}/${seg(p.name)}/${seg(o.name)}`);
  };
  const offer = (p: PortView) => {
    const asked = p.requirements.filter((r) => r.setting).map((r) => `&ask=${seg(r.setting ?? '')}`);
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
