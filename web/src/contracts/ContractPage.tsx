import { Link, useParams, useSearchParams } from 'react-router';
import { ErrorText, Status, Tabs } from '../common/ui';
import { AnswerByFlow } from './AnswerByFlow';
import { Bench } from './Bench';
import { seg } from '../api/client';
import { MakeFlowLink } from './BenchBar';
import { Changes } from './Changes';
import { ContractIndex } from './ContractIndex';
import { ContractOverview } from './ContractOverview';
import { MessageShapes } from './MessageShapes';
import { RawDescription } from './RawDescription';
import css from './ContractPage.module.css';
import { useContract } from './queries';
import { AboutBox, Mark } from '../about';

type Tab = 'bench' | 'shapes' | 'raw' | 'overview' | 'changes';

/** A contract: what it offers as a whole, or one of its operations. */
export function ContractPage() {
  const { name = '', port, operation } = useParams();
  const [search, setSearch] = useSearchParams();
  const version = search.get('version');
  const contract = useContract(name, version);
  if (contract.isPending) return null;
  if (contract.isError)
    return (
      <div className="page">
        <ErrorText error={contract.error} />
      </div>
    );
  const c = contract.data;
  const current = c.services.flatMap((s) => s.ports).find((p) => p.name === port);
  const op = current?.operations.find((o) => o.name === operation);
  const isPlain = c.services.some((s) => s.ports.some((p) => p.operations.some((o) => o.http)));
  const isOld = c.version !== c.versions[0].version;
  const tabs: { id: Tab; label: string }[] = op
    ? [
        ...(isOld ? [] : [{ id: 'bench' as const, label: 'Bench' }]),
        { id: 'shapes', label: 'Message shapes' },
        { id: 'raw', label: isPlain ? 'Raw description' : 'Raw WSDL' },
      ]
    : [
        { id: 'overview', label: 'Overview' },
        { id: 'changes', label: 'What changed' },
        { id: 'raw', label: isPlain ? 'Raw description' : 'Raw WSDL' },
      ];
  const wanted = search.get('show') as Tab | null;
  const tab = tabs.find((t) => t.id === wanted)?.id ?? tabs[0].id;
  const show = (params: Record<string, string>) => setSearch({ ...(version ? { version } : {}), ...params });
  const line =
    Number(search.get('line') ?? 0) || (op && tab === 'raw' && !search.get('document') ? (op.place?.line ?? 0) : 0);
  const onLine = (n: number, document: string) => show({ show: 'raw', line: String(n), document });
  return (
    <div className={css.columns}>
      <ContractIndex contract={c} port={current} operation={op} keep={version ? `version=${version}` : ''} />
      <section className={css.frame}>
        <div className={`row ${css.bar}`}>
          <h1 className="nowrap">{op?.name ?? c.name}</h1>
          {isOld && <Status mood="warn">version {c.version}, not the current one</Status>}
          <span className="soft cut" title={op?.documentation ?? c.documentation}>
            {op?.documentation ?? c.documentation}
          </span>
          {op && (
            <span className="push faint small nowrap">
              {op.http ? `${op.http.method} ${op.http.path}` : `${op.style} / ${op.use}`}
              {op.direction === 'one way' ? ', one way' : ''}
            </span>
          )}
          {op && current && !op.unusable && !isOld && (
            <>
              <Mark kind="operation" name={`${c.name}/${op.name}`} label={op.name} />
              <MakeFlowLink contract={c.name} port={current.name} operation={op.name} />
              <Link className="soft small nowrap" to={`/published?add=operations&contract=${seg(c.name)}`}>
                publish as JSON
              </Link>
              {!op.http && <AnswerByFlow contract={c.name} version={c.version} port={current.name} operation={op} />}
            </>
          )}
        </div>
        <div className={css.about}>
          <AboutBox
            key={op?.name ?? ''}
            kind={op ? 'operation' : 'contract'}
            name={op ? `${c.name}/${op.name}` : c.name}
            notes
          />
        </div>
        <Tabs<Tab> value={tab} onChange={(t) => show(t === tabs[0].id ? {} : { show: t })} items={tabs} />
        {tab === 'raw' ? (
          <RawDescription contract={c} line={line} document={search.get('document') ?? op?.place?.document ?? null} />
        ) : tab === 'overview' ? (
          <ContractOverview contract={c} onLine={onLine} />
        ) : tab === 'changes' ? (
          <Changes
            key={search.toString()}
            contract={c}
            from={Number(search.get('from')) || undefined}
            to={Number(search.get('to')) || undefined}
          />
        ) : !op || !current ? null : op.unusable ? (
          <div className="empty">
            <h1>This operation cannot be called</h1>
            {op.unusable}
          </div>
        ) : tab === 'shapes' ? (
          <MessageShapes
            key={`${current.name}/${op.name}`}
            contract={c}
            port={current.name}
            operation={op}
            part={search.get('part') ?? 'request'}
            at={search.get('at')}
            setPart={(p) => show({ show: 'shapes', part: p })}
            onLine={onLine}
          />
        ) : (
          <Bench key={`${current.name}/${op.name}`} contract={name} port={current} operation={op} />
        )}
      </section>
    </div>
  );
}
