import { Button } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import { seg } from '../api/client';
import { Empty } from '../common/ui';
import { SourceEditor } from './SourceEditor';
import { TargetEditor } from './TargetEditor';
import css from './DataPage.module.css';
import { sourceKind, targetKind } from './kinds';
import { useSources, useTargets } from './queries';
import { fitsLabels, LabelFilter, useAbout } from '../about';
import { useState } from 'react';

export function DataPage() {
  const { kind, name } = useParams();
  const go = useNavigate();
  const about = useAbout();
  const [labels, setLabels] = useState<string[]>([]);
  const [targetLabels, setTargetLabels] = useState<string[]>([]);
  const sources = useSources();
  const targets = useTargets();
  if (sources.isPending || targets.isPending) return null;
  const source =
    kind === 'sources' ? sources.data?.find((s) => s.name === name) : !kind ? sources.data?.[0] : undefined;
  const target = kind === 'targets' ? targets.data?.find((s) => s.name === name) : undefined;
  return (
    <div className={css.columns}>
      <aside className="side" aria-label="sources and targets">
        <div className="hd row">
          <h2>Sources</h2>
          <Button size="small" className="push" onClick={() => void go('/data/sources/new')}>
            Add source
          </Button>
        </div>
        <div className="hd">
          <LabelFilter kind="source" chosen={labels} choose={setLabels} />
        </div>
        {sources.data
          ?.filter((s) => fitsLabels(about.of('source', s.name), labels))
          .map((s) => (
            <Link key={s.name} className={`item ${s === source ? 'on' : ''}`} to={`/data/sources/${seg(s.name)}`}>
              <span className="cut">{s.name}</span>
              <span className="faint">{sourceKind(s.kind)?.word}</span>
            </Link>
          ))}
        {sources.data?.length === 0 && (
          <div className="hd soft small">Where records come from: a file, or a query.</div>
        )}
        <div className={`hd row ${css.bar}`}>
          <h2>Targets</h2>
          <Button size="small" className="push" onClick={() => void go('/data/targets/new')}>
            Add target
          </Button>
        </div>
        <div className="hd">
          <LabelFilter kind="target" chosen={targetLabels} choose={setTargetLabels} />
        </div>
        {targets.data
          ?.filter((s) => fitsLabels(about.of('target', s.name), targetLabels))
          .map((s) => (
            <Link key={s.name} className={`item ${s === target ? 'on' : ''}`} to={`/data/targets/${seg(s.name)}`}>
              <span className="cut">{s.name}</span>
              <span className="faint">{targetKind(s.kind).word}</span>
            </Link>
          ))}
        {targets.data?.length === 0 && (
          <div className="hd soft small">Where result records go: a file, or a table. A flow’s pick can make one.</div>
        )}
        <div className={`hd row ${css.bar}`}>
          <h2>Files</h2>
        </div>
        <Link className="item" to="/data/files">
          <span className="cut">of messages and answers</span>
        </Link>
      </aside>
      <section className={css.box}>
        {kind === 'sources' && name === 'new' ? (
          <SourceEditor key="new" />
        ) : source ? (
          <SourceEditor key={source.name} source={source} />
        ) : kind === 'targets' && name === 'new' ? (
          <TargetEditor key="newt" />
        ) : target ? (
          <TargetEditor key={target.name} target={target} />
        ) : kind ? (
          <div className="empty">
            <h1>
              There is no {kind === 'sources' ? 'source' : 'target'} named {name}
            </h1>
          </div>
        ) : (
          <Empty title="No data yet">
            <p>
              Point at the business data first: upload a file (delimited, JSON, XML, XLSX), or query a database. You
              will see its real records and their types.
            </p>
            <Button type="primary" onClick={() => void go('/data/sources/new')}>
              Add a source
            </Button>
          </Empty>
        )}
      </section>
    </div>
  );
}
