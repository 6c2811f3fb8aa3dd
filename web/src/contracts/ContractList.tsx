import { Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import { seg } from '../api/client';
import { plural, when } from '../common/format';
import { Empty, ErrorText, Status } from '../common/ui';
import css from './ContractList.module.css';
import { useContracts, useUses } from './queries';
import { fitsLabels, LabelFilter, Labels, useAbout } from '../about';
import { useState } from 'react';

export function ContractList() {
  const go = useNavigate();
  const contracts = useContracts();
  const about = useAbout();
  const [labels, setLabels] = useState<string[]>([]);
  const uses = useUses();
  const flows = (name: string) => [...new Set((uses.data ?? []).filter((u) => u.contract === name).map((u) => u.name))];
  if (contracts.isPending) return null;
  if (contracts.isError)
    return (
      <div className="page">
        <ErrorText error={contracts.error} />
      </div>
    );
  if (contracts.data.length === 0) {
    return (
      <Empty title="No contract yet">
        <p>
          A contract is a service description: the WSDL you were handed, with its schemas, or the OpenAPI of a plain
          HTTP service. Once it is in, you can try its operations on the Bench and call them from flows.
        </p>
        <Link to="/contracts/import">
          <Button type="primary">Import a contract</Button>
        </Link>
      </Empty>
    );
  }
  return (
    <div className="page">
      <div className="head">
        <h1>Contracts</h1>
        <LabelFilter kind="contract" chosen={labels} choose={setLabels} />
        <span className="push" />
        <Link to="/contracts/import">
          <Button type="primary">Import a contract</Button>
        </Link>
      </div>
      <div className="panel">
        <table className="grid">
          <thead>
            <tr>
              <th>name</th>
              <th>protocols</th>
              <th className="n">operations</th>
              <th>reading notes</th>
              <th>used by</th>
              <th className="n">version</th>
              <th>last compared</th>
              <th>from</th>
            </tr>
          </thead>
          <tbody>
            {contracts.data
              .filter((c) => fitsLabels(about.of('contract', c.name), labels))
              .map((c) => (
                <tr key={c.name} className="pick" onClick={() => void go(`/contracts/${seg(c.name)}`)}>
                  <td>
                    <Link to={`/contracts/${seg(c.name)}`} className="strong">
                      {c.name}
                    </Link>{' '}
                    <Labels of={about.of('contract', c.name).labels} />
                    <div className="soft small">{about.of('contract', c.name).description}</div>
                  </td>
                  <td>{c.summary.protocols.join(', ')}</td>
                  <td className="n">
                    {c.summary.operations}
                    {c.summary.unusable ? (
                      <span className={`st bad ${css.gap}`}>{c.summary.unusable} unusable</span>
                    ) : null}
                  </td>
                  <td>
                    {c.summary.errors ? (
                      <>
                        <Status mood="bad">{plural(c.summary.errors, 'error')}</Status>
                        {c.summary.warnings ? (
                          <span className="soft num">, {plural(c.summary.warnings, 'warning')}</span>
                        ) : null}
                      </>
                    ) : c.summary.warnings ? (
                      <Status mood="warn">{plural(c.summary.warnings, 'warning')}</Status>
                    ) : (
                      <Status mood="ok">clean</Status>
                    )}
                  </td>
                  <td className={`soft ${css.cell}`}>
                    <div className="cut" title={flows(c.name).join(', ')}>
                      {flows(c.name).length === 1 ? (
                        flows(c.name)[0]
                      ) : flows(c.name).length ? (
                        plural(flows(c.name).length, 'flow')
                      ) : (
                        <span className="faint">no flow</span>
                      )}
                    </div>
                  </td>
                  <td className="n">{c.version}</td>
                  <td className="soft nowrap">
                    {c.comparedAt ? (
                      <>
                        {when(c.comparedAt)}
                        <span className="small">, {c.compared}</span>
                      </>
                    ) : (
                      <span className="faint" title={`read ${when(c.readAt)}`}>
                        never
                      </span>
                    )}
                  </td>
                  <td className={`soft ${css.cell2}`}>
                    <div className="cut" title={c.source}>
                      {c.source}
                    </div>
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
