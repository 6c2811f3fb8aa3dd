import { Button } from 'antd';
import { Link, useNavigate, useParams } from 'react-router';
import { seg } from '../api/client';
import { Empty } from '../common/ui';
import { SourceEditor } from './SourceEditor';
import { TargetEditor } from './TargetEditor';
import css from './DataPage.module.css';
import { sourceKind, targetKind } from './kinds';
import { useSources, useTargets } from './queries';
import { ShapeEditor, useShapes } from './shapes';
import { fitsLabels, LabelFilter, useAbout } from '../about';
import { useState } from 'react';

const ONE: Record<string, string> = { sources: 'source', targets: 'target', shapes: 'shape' };

export function DataPage() {
  const { kind, name } = useParams();
  const go = useNavigate();
  const about = useAbout();
  const [labels, setLabels] = useState<string[]>([]);
  const [targetLabels, setTargetLabels] = useState<string[]>([]);
  const sources = useSources();
  const targets = useTargets();
  const shapes = useShapes();
  if (sources.isPending || targets.isPending || shapes.isPending) return null;
  const source =
    kind === 'sources' ? sources.data?.find((s) => s.name === name) : !kind ? sources.data?.[0] : undefined;
  const target = kind === 'targets' ? targets.data?.find((s) => s.name === name) : undefined;
  const shape = kind === 'shapes' ? shapes.data?.find((s) => s.name === name) : undefined;
  return (
    <div className={css.columns}>
      <aside className="side" aria-label="sources, targets and shapes">
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
          <h2>Shapes</h2>
          <Button size="small" className="push" onClick={() => void go('/data/shapes/new')}>
            Add shape
          </Button>
        </div>
        {shapes.data?.map((s) => (
          <Link key={s.name} className={`item ${s === shape ? 'on' : ''}`} to={`/data/shapes/${seg(s.name)}`}>
            <span className="cut">{s.name}</span>
            <span className="faint">{s.kind === 'xsd' ? 'XML' : 'JSON'}</span>
          </Link>
        ))}
        {shapes.data?.length === 0 && (
          <div className="hd soft small">What documents look like: by a schema, or learnt from samples.</div>
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
        ) : kind === 'shapes' && name === 'new' ? (
          <ShapeEditor key="news" />
        ) : shape ? (
          <ShapeEditor key={shape.name} shape={shape} />
        ) : kind ? (
          <div className="empty">
            <h1>
              There is no {ONE[kind] ?? 'target'} named {name}
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
