import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Button, Checkbox, Input, Select } from 'antd';
import { useMemo, useState } from 'react';
import { api } from '../api/client';
import type { Column, PickView, Specimen, StepOf, Tree, TriedCall } from '../api/types';
import { plural } from '../common/format';
import { TreeView } from '../common/TreeView';
import { Problem, Status } from '../common/ui';
import { PanelHead } from './PanelHead';
import {
  columnName,
  elements,
  expand,
  fromXPath,
  guess,
  isLeaf,
  leaves,
  plain,
  resolve,
  toXPath,
  withinTyped,
  xpathFrom,
} from './paths';
import type { Where } from './where';

type Pick = StepOf<'pick'>;
const TYPES = ['string', 'integer', 'decimal', 'double', 'boolean', 'date', 'dateTime', 'time'];

export function PickPanel({
  step,
  set,
  remove,
  where,
  specimen,
  goToCall,
}: {
  step: Pick;
  set: (s: Pick) => void;
  remove: () => void;
  where: Where;
  specimen?: Specimen;
  goToCall: () => void;
}) {
  const queries = useQueryClient();
  const pick = useQuery({
    queryKey: ['pick', step, where.flow, where.number, where.environment],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) => api.post<PickView>('/design/pick', where, signal),
  });
  const callStep = where.definition.steps.findLastIndex((s, i) => s.kind === 'call' && i < where.step);
  const tried = useMutation({
    mutationFn: () => api.post<TriedCall>('/design/try', { ...where, step: callStep }),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['kept', where.flow] });
      void queries.invalidateQueries({ queryKey: ['pick'] });
    },
  });
  const reply = pick.data?.reply as Tree | undefined;
  const opened = useMemo(() => (reply ? expand(reply) : undefined), [reply]);
  // Null when what one record is was typed, and is no plain path.
  const each = step.each ? fromXPath(step.each) : '';
  const setColumns = (columns: Column[]) => set({ ...step, columns });
  const xpathOf = (path: string) => {
    const at = plain(path);
    return each === null ? (withinTyped(step.each ?? '', at) ?? toXPath(at)) : each ? xpathFrom(each, at) : toXPath(at);
  };
  const toggle = (path: string, node: Tree) => {
    const x = xpathOf(path);
    setColumns(
      step.columns.some((c) => c.xpath === x)
        ? step.columns.filter((c) => c.xpath !== x)
        : [...step.columns, { name: columnName(plain(path), step.columns), xpath: x, type: guess(node.text) }],
    );
  };
  const setEach = (to: string) => {
    const typed = to.trim();
    const x = !typed
      ? undefined
      : /^(\$|parse-|\(|for |[\w-]+\()/.test(typed)
        ? typed
        : `$reply/${typed.replace(/^\/(?!\/)/, '')}`.replace('$reply///', '$reply//');
    const next = x ? fromXPath(x) : '';
    // The ticked fields stay the same fields, seen from the new place.
    const absolute = (c?: string) =>
      c === undefined ? null : (fromXPath(c) ?? (c.startsWith('$') || each === null ? null : resolve(each, c)));
    const columns = step.columns.map((c) => {
      const at = absolute(c.xpath);
      return at === null || next === null ? c : { ...c, xpath: next ? xpathFrom(next, at) : toXPath(at) };
    });
    set({ ...step, each: x, columns });
  };
  const takeAll = () => {
    if (!opened || each === null) return;
    const columns = [...step.columns];
    const deeper = new Set(
      elements(opened)
        .filter((e) => e.repeats && !(each === e.path || each.startsWith(`${e.path}/`)))
        .map((e) => e.path),
    );
    leaves(opened, '', each)
      .filter((l) => ![...deeper].some((d) => l.path === d || l.path.startsWith(`${d}/`)))
      .forEach((l) => {
        const x = xpathOf(l.path);
        if (!columns.some((c) => c.xpath === x))
          columns.push({ name: columnName(l.path, columns), xpath: x, type: guess(l.text) });
      });
    setColumns(columns);
  };
  const carry = (field: string) =>
    setColumns([
      ...step.columns,
      {
        name: columnName(field, step.columns),
        xpath: `$record/${field}`,
        type: specimen?.fields.find((f) => f.name === field && !f.pattern)?.type ?? 'string',
      },
    ]);
  const problems = new Map((pick.data?.problems ?? []).map((p) => [p.path.replace(/^row\//, ''), p.text]));
  return (
    <div style={{ display: 'grid', gridTemplateRows: 'auto auto minmax(0, 1fr) minmax(120px, 34%)', minHeight: 0 }}>
      <PanelHead title="Pick" remove={remove}>
        <span className="soft nowrap">one record is</span>
        <EachField value={step.each ?? ''} set={setEach} options={opened ? elements(opened) : []} />
        <Button
          size="small"
          disabled={!reply || each === null}
          title={each === null ? 'Type the columns: what one record is was written by hand' : undefined}
          onClick={takeAll}
        >
          Take all
        </Button>
      </PanelHead>
      <div style={{ padding: '0 18px 6px' }}>
        {pick.isError && <Problem error={pick.error} />}
        {tried.isError && <Problem error={tried.error} />}
        {tried.data?.failure && (
          <div className="notice">
            {tried.data.failure}. Choose another specimen, or{' '}
            <button className="link" onClick={goToCall}>
              mend the fill
            </button>
            .
          </div>
        )}
      </div>
      <div
        style={{
          display: 'grid',
          gridTemplateColumns: 'minmax(0, 0.74fr) minmax(0, 1.26fr)',
          minHeight: 0,
          borderTop: '1px solid var(--line)',
        }}
      >
        <div className="scroll" style={{ padding: '8px 8px 8px 18px', borderRight: '1px solid var(--line)' }}>
          <h2 style={{ marginBottom: 4 }}>The answer</h2>
          {reply ? (
            <TreeView
              root={reply}
              extra={(path, node) =>
                path === '' || !isLeaf(node) ? null : (
                  <Checkbox
                    aria-label={`take ${path}`}
                    checked={step.columns.some((c) => c.xpath === xpathOf(path))}
                    onChange={() => toggle(path, node)}
                  />
                )
              }
            />
          ) : pick.isPending ? null : (
            <div className="soft">
              <p>An answer is needed to pick from.</p>
              <Button type="primary" disabled={callStep < 0} loading={tried.isPending} onClick={() => tried.mutate()}>
                Try the call for the specimen
              </Button>
            </div>
          )}
        </div>
        <div className="scroll">
          <table className="grid fixed">
            <colgroup>
              <col style={{ width: '26%' }} />
              <col />
              <col style={{ width: 100 }} />
              <col style={{ width: 52 }} />
            </colgroup>
            <thead>
              <tr>
                <th>column</th>
                <th>value</th>
                <th>type</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {step.columns.map((c, i) => {
                const put = (n: Partial<Column>) =>
                  setColumns(step.columns.map((x, j) => (j === i ? { ...x, ...n } : x)));
                return (
                  <tr key={i}>
                    <td>
                      <Input
                        size="small"
                        variant="borderless"
                        className="mono"
                        aria-label={`column ${i + 1}`}
                        value={c.name}
                        onChange={(e) => put({ name: e.target.value })}
                        style={{ padding: 0 }}
                      />
                    </td>
                    <td>
                      <Input
                        size="small"
                        variant="borderless"
                        className="mono"
                        aria-label={`value of ${c.name}`}
                        title={problems.get(c.name)}
                        status={problems.has(c.name) ? 'error' : undefined}
                        style={{ padding: 0, color: problems.has(c.name) ? 'var(--madder)' : undefined }}
                        value={c.text !== undefined ? `"${c.text}` : (c.xpath ?? '')}
                        onChange={(e) =>
                          put(
                            e.target.value.startsWith('"')
                              ? { text: e.target.value.slice(1), xpath: undefined }
                              : { xpath: e.target.value, text: undefined },
                          )
                        }
                      />
                      {problems.has(c.name) && (
                        <div className="small cut" style={{ color: 'var(--madder)' }}>
                          {problems.get(c.name)}
                        </div>
                      )}
                    </td>
                    <td>
                      <Select
                        size="small"
                        variant="borderless"
                        style={{ width: '100%', marginLeft: -8 }}
                        aria-label={`type of ${c.name}`}
                        value={c.type ?? 'string'}
                        onChange={(t) => put({ type: t })}
                        options={TYPES.map((t) => ({ value: t, label: t === 'string' ? 'text' : t }))}
                      />
                    </td>
                    <td>
                      <button
                        className="link faint small"
                        onClick={() => setColumns(step.columns.filter((_, j) => j !== i))}
                      >
                        drop
                      </button>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          <div className="row wrap small" style={{ padding: '8px 18px' }}>
            <Select
              size="small"
              aria-label="carry a source field"
              placeholder="carry a source field"
              style={{ width: 160 }}
              value={null}
              onChange={(v: string | null) => v && carry(v)}
              options={specimen?.fields.map((f) => ({ value: f.name, label: f.name }))}
            />
            <button
              className="link soft"
              onClick={() =>
                setColumns([
                  ...step.columns,
                  { name: columnName('asked_at', step.columns), xpath: 'current-dateTime()', type: 'dateTime' },
                ])
              }
            >
              time of the call
            </button>
            <button
              className="link soft"
              onClick={() =>
                setColumns([...step.columns, { name: columnName('value', step.columns), xpath: '', type: 'string' }])
              }
            >
              expression
            </button>
            <span className="faint">a leading " makes a fixed text</span>
          </div>
        </div>
      </div>
      <Result view={pick.data} columns={step.columns} />
    </div>
  );
}

const WHOLE = '';
const TYPED = '\0typed';

/** What one record is: the whole answer, each of an element, also inside a document in a string, or any path typed. */
function EachField({
  value,
  set,
  options,
}: {
  value: string;
  set: (path: string) => void;
  options: { path: string; repeats: boolean }[];
}) {
  const [draft, setDraft] = useState<string>();
  const choices = useMemo(
    () => [
      { value: WHOLE, label: 'the whole answer' },
      ...options.map((e) => {
        const path = toXPath(e.path, '$reply/');
        return { value: path, label: `each ${path.replace(/^\$reply\//, '')}${e.repeats ? ' (repeats)' : ''}` };
      }),
    ],
    [options],
  );
  const isTyped = draft !== undefined || (value !== WHOLE && !choices.some((c) => c.value === value));
  const end = () => {
    if (draft !== undefined) set(draft);
    setDraft(undefined);
  };
  return (
    <>
      <Select
        aria-label="one record is"
        style={{ width: isTyped ? 132 : 340, flex: 'none' }}
        popupMatchSelectWidth={false}
        value={isTyped ? TYPED : value}
        options={[...choices, { value: TYPED, label: 'each at a path' }]}
        onChange={(v) => (v === TYPED ? setDraft(value) : (setDraft(undefined), set(v)))}
      />
      {isTyped && (
        <Input
          className="mono"
          style={{ flex: '1 1 120px', minWidth: 0, maxWidth: 420 }}
          aria-label="path of one record"
          placeholder="$reply//row, or any XPath"
          autoFocus={draft !== undefined}
          value={draft ?? value}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={end}
          onPressEnter={end}
          onKeyDown={(e) => {
            if (e.key === 'Escape') {
              e.stopPropagation();
              setDraft(undefined);
            }
          }}
        />
      )}
    </>
  );
}

function Result({ view, columns }: { view?: PickView; columns: Column[] }) {
  const [all, setAll] = useState(false);
  const records = (view?.records ?? []) as Tree[];
  return (
    <div className="scroll" style={{ borderTop: '1px solid var(--line2)', background: 'var(--paper)' }}>
      <div className="row small" style={{ padding: '6px 18px' }}>
        <h2>Result for this answer</h2>
        {view?.reply &&
          (view.problems.length ? (
            <Status mood="bad">
              {view.problems[0].path.replace(/^row\//, '')}: {view.problems[0].text}
            </Status>
          ) : (
            <Status mood="ok">{plural(records.length, 'record')}</Status>
          ))}
      </div>
      <table className="grid">
        <thead>
          <tr>
            {(view?.fields ?? []).map((f) => (
              <th key={f.name} className="mono" style={{ background: 'var(--paper)' }}>
                {f.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {records.slice(0, all ? 500 : 30).map((r, i) => (
            <tr key={i}>
              {(view?.fields ?? []).map((f) => {
                const v = r.children?.find((c) => c.name === f.name)?.text;
                return (
                  <td key={f.name} className="num nowrap">
                    {v ?? <span className="faint">–</span>}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {records.length > 30 && !all && (
        <button className="link soft" style={{ margin: 8 }} onClick={() => setAll(true)}>
          show all {records.length}
        </button>
      )}
      {columns.length === 0 && (
        <div className="soft" style={{ padding: '4px 18px' }}>
          Tick fields in the answer, or take all.
        </div>
      )}
    </div>
  );
}
