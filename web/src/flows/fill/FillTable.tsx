import { rowOf } from '../../common/problems';
import { useVirtualizer } from '@tanstack/react-virtual';
import type { InputRef } from 'antd';
import { useMemo, useRef, useState } from 'react';
import type { FillView, Rule, Specimen } from '../../api/types';
import { Panel } from '../../common/Panel';
import { takesFile, useFiles } from '../../files';
import { useSecrets } from '../../connections';
import { shifted, tall } from '../../common/place';
import { useStable } from '../../common/useStable';
import { useFunctions } from '../queries';
import { useNames } from '../names';
import type { Where } from '../where';
import { FillBar } from './FillBar';
import { kindsTaken, type Filling } from './filling';
import { FillRow, type RowActs } from './FillRow';
import { eachAround, itemNames } from './itemNames';
import { Message } from './Message';
import { hiddenBranches, nextOccurrence, without } from './rows';
import { cleared, shown, withInside, type Wish } from './shown';
import { useFillKeys } from './useFillKeys';
import { ValueEditor } from './ValueEditor';
import { accepted, merged, ruleOf, typedIn } from './values';

const ROW_PX = 28;

const EVERYTHING: Wish = { show: 'all', find: '', folded: new Set() };

/** The set with a path, or without it. */
function changed(set: ReadonlySet<string>, path: string, isIn: boolean): Set<string> {
  const out = new Set(set);
  if (isIn) out.add(path);
  else out.delete(path);
  return out;
}

interface Props {
  fill: FillView;
  filling: Filling;
  setRules: (change: (rules: Rule[]) => Rule[]) => void;
  /** The value being typed, not kept yet. */
  draft?: Rule;
  setDraft: (r?: Rule) => void;
  specimen?: Specimen;
  where: Where;
  /** Makes a record the specimen. */
  setNumber: (n: number) => void;
  open: (path: string) => void;
}

/** Target first: one row a node of the outgoing message. Below, the exact message for the specimen. */
export function FillTable({ fill, filling, setRules, draft, setDraft, specimen, where, setNumber, open }: Props) {
  const names = useNames(where, specimen?.record);
  const [at, setAt] = useState<string>();
  const [look, setLook] = useState<Wish>(EVERYTHING);
  const finder = useRef<InputRef>(null);
  const scroller = useRef<HTMLDivElement>(null);
  const functions = useFunctions();
  const files = useFiles(at !== undefined).data?.files.map((f) => f.name) ?? [];
  const secrets = useSecrets(at !== undefined).data?.secrets.map((s) => s.name) ?? [];
  const { rules, wish: wishOf } = filling;
  const byPath = useMemo(() => new Map(rules.map((r) => [r.path, r])), [rules]);
  const problems = useMemo(() => new Map(fill.problems.map((p) => [rowOf(p), p])), [fill.problems]);
  const unfilled = useMemo(() => new Set(fill.unfilled), [fill.unfilled]);
  const ghosts = useMemo(() => new Map(fill.suggestions.map((s) => [s.path, s])), [fill.suggestions]);
  const hidden = useMemo(() => hiddenBranches(fill.rows, byPath), [fill.rows, byPath]);
  const wish = useMemo(() => wishOf(kindsTaken(rules)), [wishOf, rules]);
  const rows = useMemo(
    () => shown(fill.rows, look, { rules, hidden, unfilled, wrong: new Set(problems.keys()) }),
    [fill.rows, look, rules, hidden, unfilled, problems],
  );
  const nests = useMemo(() => withInside(fill.rows), [fill.rows]);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_PX,
    overscan: 6,
  });
  const put = (r: Rule) => setRules((all) => merged(all, r));
  const move = (path: string, by: number) => {
    const editable = rows.filter((r) => r.hasText);
    const next = editable[editable.findIndex((r) => r.path === path) + by];
    setAt(next?.path);
    if (next) list.scrollToIndex(rows.indexOf(next));
  };
  const acts = useStable<RowActs>({
    put,
    another: (path) => put({ path: nextOccurrence(path, rules) }),
    drop: (path) => setRules((all) => without(path, all)),
    edit: setAt,
    open,
    fold: (path, away) => setLook((l) => ({ ...l, folded: changed(l.folded, path, away) })),
  });
  const offered = fill.suggestions.filter((s) => !hidden.has(s.path) && !byPath.has(s.path));
  const takeAll = () => setRules((all) => offered.reduce((so, s) => accepted(s.path, so, offered, fill.rows), all));
  const keys = useFillKeys(rows, scroller, list.scrollToIndex, {
    edit: (r) => (r.hasText || r.repeated || r.kind === 'element') && setAt(r.path),
    take: (r) => setRules((all) => accepted(r.path, all, offered, fill.rows)),
    takeAll,
    another: (r) => r.repeated && acts.another(r.path),
    clear: (r) => setRules((all) => cleared(r.path, all)),
    fold: (r, away) => nests.has(r.path) && acts.fold(r.path, away),
    find: () => finder.current?.focus(),
  });
  return (
    <Panel
      scrolls={false}
      bar={
        <FillBar
          fill={fill}
          filling={filling}
          where={where}
          setNumber={setNumber}
          look={look}
          setLook={setLook}
          finder={finder}
          offered={offered.length}
          takeValues={(given) =>
            setRules((all) => [...all, ...given.filter((g) => !all.some((r) => r.path === g.path))])
          }
          takeAll={takeAll}
        />
      }
      foot={<Message filling={filling} fill={fill} where={where} />}
    >
      {/* Rows are tall by their number; those out of sight are not drawn. */}
      <div
        className="scroll full"
        ref={scroller}
        role="grid"
        tabIndex={0}
        aria-label="fill"
        aria-rowcount={rows.length + 1}
        onKeyDown={keys.onKeyDown}
      >
        <div className="fillrow head" role="row">
          {['', 'element', 'type', 'occurs', 'value', 'becomes'].map((c) => (
            <span key={c} role="columnheader">
              {c}
            </span>
          ))}
        </div>
        <div className="sparse" style={tall(list.getTotalSize())} role="rowgroup">
          {list.getVirtualItems().map((v) => {
            const r = rows[v.index];
            const rule = byPath.get(r.path);
            return (
              <div key={r.path} className="sparse-row" style={shifted(v.start)} role="presentation">
                <FillRow
                  row={r}
                  wish={wish}
                  rows={fill.rows}
                  rule={draft?.path === r.path ? draft : rule}
                  acts={acts}
                  ghost={ghosts.get(r.path)}
                  problem={problems.get(r.path)}
                  becomes={fill.becomes[r.path]}
                  unfilled={unfilled.has(r.path)}
                  connection={filling.connection}
                  editing={at === r.path}
                  isCursor={keys.cursor === r.path}
                  nests={nests.has(r.path) ? (look.folded.has(r.path) ? 'folded' : 'open') : undefined}
                  editor={
                    at === r.path && (
                      <ValueEditor
                        start={typedIn(r, rule)}
                        ghost={ghosts.get(r.path)?.xpath}
                        label={`value of ${r.name}`}
                        problem={problems.get(r.path)}
                        record={itemNames(names, eachAround(r.path, byPath))}
                        functions={functions.data ?? []}
                        secrets={secrets}
                        files={takesFile(r.type) ? files : []}
                        onType={(t) => setDraft(ruleOf(r, rule, t))}
                        onEnd={(t, then) => {
                          setDraft(undefined);
                          if (t !== null && !rule && t === ghosts.get(r.path)?.xpath)
                            setRules((all) => accepted(r.path, all, offered, fill.rows));
                          else if (t !== null) put(ruleOf(r, rule, t));
                          if (then === 'stay') {
                            setAt((x) => (x === r.path ? undefined : x));
                            keys.resume(r.path);
                          } else move(r.path, then === 'next' ? 1 : -1);
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
    </Panel>
  );
}
