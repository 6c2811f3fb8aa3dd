import { Button } from 'antd';
import { Fragment, useState, type DragEvent } from 'react';
import type { Api, Specimen, Step, Tree } from '../api/types';
import { count } from '../common/format';
import { indent } from '../common/place';
import { TreeView } from '../common/TreeView';
import { ErrorText } from '../common/ui';
import { useLookAt, useReadAgain, useRunTo } from './queries';
import { allSteps } from './tree';
import { nearest, type Where } from './where';
import { kindsOf } from './kinds/pick/picking';
import css from './SpecimenSide.module.css';

type Variable = Api<'Variable'>;

interface Props {
  specimen?: Specimen;
  error: unknown;
  total?: number | null;
  setNumber: (n: number) => void;
  setPart: (n: number) => void;
  where: Where;
}

/** The record before and after the step. Fields can be dragged into a value. */
export function SpecimenSide({ specimen, error, total, setNumber, setPart, where }: Props) {
  const again = useReadAgain(where);
  const used = usedFields(allSteps(where.definition.steps));
  return (
    <aside className={`scroll ${css.body}`} aria-label="specimen">
      <div className={`row ${css.bar}`}>
        <h2>Specimen</h2>
        <Turn what="record" keys={['[', ']']} at={where.number} of={total} set={setNumber} />
      </div>
      {error ? (
        <div className={css.inset}>
          <ErrorText error={error} />
        </div>
      ) : null}
      {!specimen && !error && (
        <div className={`soft small ${css.inset}`}>Choose a source in the first step; its records appear here.</div>
      )}
      {specimen && !specimen.record && (
        <div className={`soft small ${css.inset}`}>There is no record {where.number}.</div>
      )}
      {specimen && (
        <div className={`small ${css.inset}`}>
          <button
            className="link soft"
            title="Reads the source again, if what it gives has changed"
            disabled={again.isPending}
            onClick={() => again.mutate()}
          >
            read again
          </button>
        </div>
      )}
      {specimen?.record && <Fields record={specimen.record} used={used} />}
      {specimen?.record && <BeforeAndAfter where={where} setPart={setPart} />}
    </aside>
  );
}

/** Names of fields that expressions of the flow mention. */
function usedFields(steps: Step[]): Set<string> {
  return new Set(
    steps.flatMap((s) =>
      s.kind === 'call'
        ? s.fill.flatMap((r) => r.xpath?.match(/[\p{L}_][\p{L}\p{N}_.-]*/gu) ?? [])
        : s.kind === 'pick'
          ? kindsOf(s)
              .flatMap((k) => k.columns)
              .flatMap((c) => c.xpath?.match(/(?<=\$record\/)[\p{L}_][\p{L}\p{N}_.-]*/gu) ?? [])
          : [],
    ),
  );
}

/** One of several, with the one before and the one after. */
function Turn(props: { what: string; keys?: string[]; at: number; of?: number | null; set: (n: number) => void }) {
  const { what, keys, at, of, set } = props;
  return (
    <span className={`push row num ${css.bar2}`}>
      <Button
        type="text"
        size="small"
        aria-label={`previous ${what}`}
        title={keys?.[0]}
        disabled={at <= 1}
        onClick={() => set(at - 1)}
      >
        ‹
      </Button>
      <span className="soft">
        {count(at)}
        {of != null ? ` of ${count(of)}` : ''}
      </span>
      <Button
        type="text"
        size="small"
        aria-label={`next ${what}`}
        title={keys?.[1]}
        disabled={of != null && at >= of}
        onClick={() => set(at + 1)}
      >
        ›
      </Button>
    </span>
  );
}

const Fields = ({ record, used }: { record: Tree; used: Set<string> }) => (
  <table className="grid fixed">
    <tbody>
      <FieldRows of={record} path="" depth={0} used={used} />
    </tbody>
  </table>
);

/** The fields of a record, those inside of others on demand. */
function FieldRows({ of, path, depth, used }: { of: Tree; path: string; depth: number; used: Set<string> }) {
  const [open, setOpen] = useState<ReadonlySet<number>>(new Set());
  const toggle = (i: number) =>
    setOpen((o) => (o.has(i) ? new Set([...o].filter((x) => x !== i)) : new Set([...o, i])));
  return of.children?.map((c, i) => {
    const at = path ? `${path}/${c.name}` : c.name;
    const isUsed = used.has(c.name);
    const drag = (e: DragEvent) => e.dataTransfer.setData('text/plain', at);
    return (
      <Fragment key={i}>
        <tr draggable onDragStart={drag} className={css.box}>
          <td
            className={`mono cut ${css.field} ${isUsed ? css.used : ''}`}
            title={`${at}${isUsed ? ', used in this flow' : ''}; drag it into a value`}
          >
            <span style={indent(depth)}>
              {c.children ? (
                <button className="link bare" aria-expanded={open.has(i)} onClick={() => toggle(i)}>
                  {c.name} {open.has(i) ? '▾' : '▸'}
                </button>
              ) : (
                c.name
              )}
            </span>
          </td>
          <td className="cut" title={c.text}>
            {c.children ? (
              <span className="faint">{c.children.length} inside</span>
            ) : (
              c.text || <span className="faint">blank</span>
            )}
          </td>
        </tr>
        {c.children && open.has(i) && <FieldRows of={c} path={at} depth={depth + 1} used={used} />}
      </Fragment>
    );
  });
}

/** The names there are before the step, and those that are new or other after it. */
function BeforeAndAfter({ where, setPart }: { where: Where; setPart: (n: number) => void }) {
  const look = useLookAt(where).data;
  const runTo = useRunTo(where);
  if (!look) return null;
  const before = look.before.filter((v) => v.name !== 'record' && v.name !== 'run' && hasSomething(v));
  const after = (look.after ?? []).filter((v) => isNew(v, look.before));
  const call = nearest(where, 'call', true);
  const number = (path: string) => {
    const id = path.slice(path.lastIndexOf('/') + 1);
    return allSteps(where.definition.steps).findIndex((s) => s.id === id) + 1;
  };
  return (
    <div className={css.inset2}>
      {look.visits > 1 && (
        <div className="row">
          <h2>Part</h2>
          <Turn what="part" at={where.part ?? 1} of={look.visits} set={setPart} />
        </div>
      )}
      {look.failedPath && look.failedPath !== look.path && (
        <div className="st bad small">
          <span className="breaks">
            set aside at step {number(look.failedPath)}: {look.reason}
          </span>
        </div>
      )}
      {!look.path && !look.failedPath && <div className="soft small">This record does not come to the step.</div>}
      {look.missing.length > 0 && call && (
        <div className={`soft small ${css.gap}`}>
          No answer is kept of step {[...new Set(look.missing.map(number))].join(', ')}.{' '}
          <button className="link" disabled={runTo.isPending} onClick={() => runTo.mutate()}>
            make {look.missing.length === 1 ? 'this call' : 'these calls'}
          </button>
        </div>
      )}
      {runTo.isError && <ErrorText error={runTo.error} />}
      {before.length > 0 && <h2 className={css.gap}>Before</h2>}
      {before.map((v) => (
        <Named key={v.name} variable={v} />
      ))}
      {after.length > 0 && <h2 className={css.gap}>After</h2>}
      {after.map((v) => (
        <Named key={v.name} variable={v} startsOpen />
      ))}
    </div>
  );
}

/** Nothing is kept between runs yet. */
const hasSomething = (v: Variable) => v.name !== 'kept' || !!v.values[0]?.children;

const isNew = (v: Variable, before: Variable[]) => {
  const was = before.find((b) => b.name === v.name);
  return !was || JSON.stringify(was) !== JSON.stringify(v);
};

const FIRST_SHOWN = 3;

/** A name with what it stands for; opened on demand. */
function Named({ variable: v, startsOpen = false }: { variable: Variable; startsOpen?: boolean }) {
  const [open, setOpen] = useState(startsOpen);
  const single = v.values.length === 1 && !v.values[0].children ? v.values[0].text : undefined;
  return (
    <div className={css.gap2}>
      <div className="row small">
        <button
          className={`link bare mono ${css.variable}`}
          draggable
          onDragStart={(e) => e.dataTransfer.setData('text/plain', `$${v.name}`)}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          ${v.name} {single === undefined ? (open ? '▾' : '▸') : ''}
        </button>
        <span className="soft cut">{single ?? (v.items > 1 ? `${count(v.items)} items` : '')}</span>
      </div>
      {open && single === undefined && (
        <div className={css.box2}>
          {v.values.slice(0, FIRST_SHOWN).map((tree, i) => (
            <TreeView key={i} root={tree} />
          ))}
          {v.items > FIRST_SHOWN && <div className="faint small">and {count(v.items - FIRST_SHOWN)} more</div>}
        </div>
      )}
    </div>
  );
}
