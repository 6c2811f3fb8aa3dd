import { useMutation, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Dropdown, Segmented, Select } from 'antd';
import { useMemo, useRef, useState } from 'react';
import { api } from '../api/client';
import type { Api, FillView, FunctionView, MappingProblem, Rule, ShapeRow, Specimen, StepOf, Tree } from '../api/types';
import { Status } from '../common/ui';
import { XmlText } from '../common/XmlText';
import { KindSelect } from '../contracts/KindSelect';
import { name, type ShapeWish } from '../contracts/MessageShapes';
import { ShowValue, ValueEditor } from './ValueCell';
import { merged, ruleOf, typedIn } from './values';
import type { Where } from './where';

interface Props {
  fill: FillView;
  rules: Rule[];
  setRules: (r: Rule[]) => void;
  draft?: Rule;
  setDraft: (r?: Rule) => void;
  specimen?: Specimen;
  where: Where;
  open: (path: string) => void;
}

/** Target first: one row a node of the outgoing message. Below, the exact message for the specimen. */
export function FillTable({ fill, rules, setRules, draft, setDraft, specimen, where, open: openRow }: Props) {
  const [at, setAt] = useState<string>();
  const [onlyRequired, setOnlyRequired] = useState(false);
  const [asSent, setAsSent] = useState(false);
  const scroller = useRef<HTMLDivElement>(null);
  const functions = useQuery({
    queryKey: ['functions'],
    queryFn: () => api.get<FunctionView[]>('/design/functions'),
    staleTime: Infinity,
  });
  const trial = useMutation({ mutationFn: () => api.post<Api<'FillTrial'>>('/design/fill/trial', where) });
  const byPath = useMemo(() => new Map(rules.map((r) => [r.path, r])), [rules]);
  const problems = useMemo(() => new Map(fill.problems.map((p) => [p.path, p])), [fill.problems]);
  const ghosts = useMemo(() => new Map(fill.suggestions.map((s) => [s.path, s.xpath])), [fill.suggestions]);
  const hidden = useMemo(() => hiddenBranches(fill.rows, byPath), [fill.rows, byPath]);
  const rows = useMemo(
    () =>
      fill.rows.filter(
        (r) =>
          !hidden.has(r.path) &&
          (!onlyRequired || r.required || [...byPath.keys()].some((p) => p === r.path || p.startsWith(`${r.path}/`))),
      ),
    [fill.rows, hidden, onlyRequired, byPath],
  );
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 28,
    overscan: 20,
  });
  const wish = useMemo(() => wishOf(where, rules), [where, rules]);
  const put = (r: Rule) => setRules(merged(rules, r));
  const move = (path: string, by: number) => {
    const editable = rows.filter((r) => r.hasText);
    const next = editable[editable.findIndex((r) => r.path === path) + by];
    setAt(next?.path);
    if (next) list.scrollToIndex(rows.indexOf(next));
  };
  const takeAll = () =>
    setRules([
      ...rules,
      ...fill.suggestions
        .filter((s) => !byPath.has(s.path) && !hidden.has(s.path))
        .map((s) => ({ path: s.path, xpath: s.xpath })),
    ]);
  const open = fill.unfilled.length;
  const bad = fill.problems.filter((p) => !fill.unfilled.includes(p.path));
  const offered = fill.suggestions.filter((s) => !hidden.has(s.path)).length;
  return (
    <div style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr) auto', minHeight: 0 }}>
      <div className="row wrap small" style={{ padding: '6px 18px', gap: '4px 14px' }}>
        {open > 0 ? (
          <Status mood="warn">
            {open} required {open === 1 ? 'row' : 'rows'} unfilled
          </Status>
        ) : bad.length > 0 ? (
          <Status mood="bad">{bad.length === 1 ? '1 value does not fit' : `${bad.length} values do not fit`}</Status>
        ) : (
          <Status mood="ok">complete for this record</Status>
        )}
        <span className="soft">
          {trial.data ? (
            <>
              fits {trial.data.fitting} of {trial.data.tried} records
              {trial.data.failing.length > 0 && (
                <>
                  {' '}
                  · <Failing trial={trial.data} />
                </>
              )}{' '}
              ·{' '}
            </>
          ) : null}
          <button className="link soft" onClick={() => trial.mutate()}>
            {trial.isPending ? 'trying' : trial.data ? 'again' : 'try on the first 500 records'}
          </button>
        </span>
        <button className="link soft" onClick={() => setOnlyRequired(!onlyRequired)}>
          {onlyRequired ? 'show all rows' : 'required and filled only'}
        </button>
        {offered > 0 && (
          <span className="push soft">
            {offered} {offered === 1 ? 'suggestion' : 'suggestions'} <kbd>Tab</kbd> takes one ·{' '}
            <button className="link" onClick={takeAll}>
              take all
            </button>
          </span>
        )}
      </div>
      <div className="scroll" ref={scroller} role="grid" aria-label="fill">
        <div className="fillrow head">
          <span />
          <span>element</span>
          <span>type</span>
          <span>occurs</span>
          <span>value</span>
          <span>becomes</span>
        </div>
        <div style={{ height: list.getTotalSize(), position: 'relative' }}>
          {list.getVirtualItems().map((v) => {
            const r = rows[v.index];
            return (
              <div key={r.path} style={{ position: 'absolute', top: v.start, left: 0, right: 0 }}>
                <FillRow
                  row={r}
                  wish={wish}
                  rows={fill.rows}
                  rule={draft?.path === r.path ? draft : byPath.get(r.path)}
                  put={put}
                  ghost={byPath.has(r.path) ? undefined : ghosts.get(r.path)}
                  problem={problems.get(r.path)}
                  becomes={fill.becomes[r.path]}
                  unfilled={fill.unfilled.includes(r.path)}
                  open={() => openRow(r.path)}
                  editing={at === r.path}
                  edit={() => setAt(r.path)}
                  editor={
                    at === r.path && (
                      <ValueEditor
                        start={typedIn(r, byPath.get(r.path))}
                        ghost={ghosts.get(r.path)}
                        label={`value of ${r.name}`}
                        record={specimen?.record as Tree | undefined}
                        functions={functions.data ?? []}
                        onType={(t) => setDraft(ruleOf(r, byPath.get(r.path), t))}
                        onEnd={(t, then) => {
                          setDraft(undefined);
                          if (t !== null) put(ruleOf(r, byPath.get(r.path), t));
                          if (then === 'stay') setAt((x) => (x === r.path ? undefined : x));
                          else move(r.path, then === 'next' ? 1 : -1);
                        }}
                      />
                    )
                  }
                />
              </div>
            );
          })}
        </div>
      </div>
      <div
        style={{
          borderTop: '1px solid var(--line2)',
          background: 'var(--paper)',
          display: 'grid',
          gridTemplateRows: 'auto minmax(0, 1fr)',
          height: 232,
        }}
      >
        <div className="row small" style={{ padding: '6px 18px' }}>
          <h2>The message for this record</h2>
          {fill.validation.length > 0 ? (
            <span className="st bad cut" title={fill.validation.map((n) => n.text).join('\n')}>
              <span className="cut">
                {open > 0
                  ? `${last(fill.unfilled[0])} is required here`
                  : bad[0]
                    ? `${last(bad[0].path)}: ${bad[0].text}`
                    : fill.validation[0].text}
              </span>
            </span>
          ) : fill.problems.length === 0 ? (
            <Status mood="ok">fits its schema</Status>
          ) : null}
          <Segmented
            className="push"
            size="small"
            value={asSent ? 'sent' : 'xml'}
            onChange={(v) => setAsSent(v === 'sent')}
            options={[
              { value: 'xml', label: 'XML' },
              { value: 'sent', label: 'As sent' },
            ]}
          />
        </div>
        <div className="scroll" style={{ padding: '0 18px 10px' }}>
          <XmlText
            xml={fill.envelope}
            asSent={asSent}
            isHit={(l) =>
              fill.problems.some((p) => new RegExp(`<(\\w+:)?${last(p.path).replace(/[^\w.-]/g, '')}[\\s/>]`).test(l))
            }
          />
        </div>
      </div>
    </div>
  );
}

const last = (path: string) => path.slice(path.lastIndexOf('/') + 1);

/** Rows in branches of a choice that were not taken. */
function hiddenBranches(rows: ShapeRow[], rules: Map<string, Rule>): Set<string> {
  const out = new Set<string>();
  const choices = new Map(rows.filter((r) => r.kind === 'choice').map((r) => [r.path, rules.get(r.path)?.branch]));
  for (const r of rows) {
    const parent = r.path.slice(0, Math.max(0, r.path.lastIndexOf('/')));
    if (out.has(parent) || (choices.get(parent) !== undefined && choices.get(parent) !== last(r.path))) out.add(r.path);
  }
  return out;
}

/** How to ask for the kinds of a row of this step's request. */
function wishOf(where: Where, rules: Rule[]): ShapeWish {
  const call = where.definition.steps[where.step] as StepOf<'call'>;
  return {
    contract: call.contract ?? '',
    version: call.version,
    port: call.port,
    operation: call.operation ?? '',
    part: 'request',
    kinds: Object.fromEntries(rules.flatMap((r) => (r.kind ? [[r.path, r.kind]] : []))),
    opened: [],
  };
}

function Failing({ trial }: { trial: Api<'FillTrial'> }) {
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: trial.failing.slice(0, 20).map((f, i) => ({
          key: i,
          label: (
            <span className="small">
              <span className="num">record {f.number}</span>: <span className="mono">{last(f.path)}</span> {f.text}
            </span>
          ),
        })),
      }}
    >
      <button className="link st warn">show {trial.failing.length}</button>
    </Dropdown>
  );
}

const WHEN: Record<string, string> = { KEEP: 'keep empty', NIL: 'nil if empty' };

/**
 * What happens when a value is empty; a required row can be kept empty on purpose, or sent as nil where that is
 * allowed.
 */
function EmptyRule({ row: r, rule, put }: { row: ShapeRow; rule: Rule; put: (r: Rule) => void }) {
  const turn = [
    'OMIT',
    ...(r.required && r.values ? [] : ['KEEP']),
    ...(r.nillable ? ['NIL'] : []),
  ] as Rule['whenEmpty'][];
  const next = turn[(turn.indexOf(rule.whenEmpty ?? 'OMIT') + 1) % turn.length];
  const words = WHEN[rule.whenEmpty ?? ''] ?? (r.required ? 'must not be empty' : 'omit if empty');
  return (
    <button
      className="link faint small push"
      title="what happens when the value is empty"
      disabled={turn.length < 2}
      onClick={(e) => {
        e.stopPropagation();
        put({ ...rule, whenEmpty: next === 'OMIT' ? undefined : next });
      }}
    >
      {words}
    </button>
  );
}

interface RowProps {
  row: ShapeRow;
  wish: ShapeWish;
  rows: ShapeRow[];
  rule?: Rule;
  put: (r: Rule) => void;
  ghost?: string;
  problem?: MappingProblem;
  becomes?: string[];
  unfilled: boolean;
  editing: boolean;
  edit: () => void;
  editor: React.ReactNode;
  open: () => void;
}

function FillRow({
  row: r,
  wish,
  rows,
  rule,
  put,
  ghost,
  problem,
  becomes,
  unfilled,
  editing,
  edit,
  editor,
  open,
}: RowProps) {
  const [over, setOver] = useState(false);
  const mood = unfilled ? 'warn' : problem ? 'bad' : rule || becomes ? 'ok' : undefined;
  const drop = (e: React.DragEvent) => {
    e.preventDefault();
    setOver(false);
    const field = e.dataTransfer.getData('text/plain');
    if (!field) return;
    put(ruleOf(r, rule, field));
  };
  const branches = () =>
    rows.filter((x) => x.path.startsWith(`${r.path}/`) && !x.path.slice(r.path.length + 1).includes('/'));
  return (
    <div className={`fillrow ${editing ? 'at' : ''}`} role="row" data-path={r.path}>
      <span className={mood ? `st ${mood}` : ''} title={problem?.text} />
      <span
        className="mono"
        style={{ paddingLeft: 6 + r.depth * 14 }}
        title={[r.documentation, r.path].filter(Boolean).join('\n')}
      >
        {name(r)}
        {r.closed && (
          <button className="link faint" style={{ marginLeft: 6 }} onClick={open}>
            open
          </button>
        )}
      </span>
      <span className="soft small" title={[r.type, r.limits].filter(Boolean).join(': ')}>
        {r.kinds ? (
          <KindSelect
            row={r}
            wish={wish}
            taken={rule?.kind}
            take={(k) => put({ ...rule, path: r.path, kind: k || undefined })}
          />
        ) : (
          r.type
        )}
      </span>
      <span className="soft num small">{r.occurs}</span>
      {r.kind === 'choice' ? (
        <span>
          <Select
            size="small"
            variant="borderless"
            allowClear
            style={{ width: '100%', marginLeft: -8 }}
            aria-label="branch"
            placeholder="first that has a value"
            value={rule?.branch}
            onChange={(b) => put({ ...rule, path: r.path, branch: b })}
            options={branches().map((b) => ({ value: last(b.path), label: name(b) }))}
          />
        </span>
      ) : !r.hasText && !r.repeated ? (
        <span className="faint small">
          {r.nillable && (
            <button
              className="link faint"
              onClick={() => put({ ...rule, path: r.path, whenEmpty: rule?.whenEmpty === 'NIL' ? undefined : 'NIL' })}
            >
              {rule?.whenEmpty === 'NIL' ? 'nil' : 'make nil'}
            </button>
          )}
        </span>
      ) : editor ? (
        <span style={{ overflow: 'visible' }}>{editor}</span>
      ) : (
        <div
          className={`cell ${over ? 'over' : ''}`}
          role="gridcell"
          tabIndex={0}
          aria-label={`value of ${r.name}`}
          onClick={edit}
          onFocus={(e) => {
            if (e.target.matches(':focus-visible')) edit();
          }}
          onDragOver={(e) => {
            e.preventDefault();
            setOver(true);
          }}
          onDragLeave={() => setOver(false)}
          onDrop={drop}
        >
          <ShowValue rule={rule} ghost={ghost} />
          {r.repeated && !r.hasText && !rule?.each && (
            <span className="faint small">once; drop a repeating field for more</span>
          )}
          {rule?.each && (
            <button
              className="link faint small"
              onClick={(e) => {
                e.stopPropagation();
                put({ ...rule, each: undefined, xpath: undefined });
              }}
            >
              clear
            </button>
          )}
          {rule && r.hasText && <EmptyRule row={r} rule={rule} put={put} />}
        </div>
      )}
      <span
        className={problem && !unfilled ? '' : 'soft'}
        style={problem && !unfilled ? { color: 'var(--madder)' } : undefined}
        title={problem?.text ?? becomes?.join(', ')}
      >
        {problem && !unfilled ? (
          problem.text
        ) : becomes?.length ? (
          becomes.map((b) => b ?? '–').join(', ')
        ) : unfilled ? (
          <span className="faint">required</span>
        ) : (
          ''
        )}
      </span>
    </div>
  );
}
