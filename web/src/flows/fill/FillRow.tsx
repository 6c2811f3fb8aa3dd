import { memo, useState, type DragEvent, type ReactNode } from 'react';
import type { FillView, Problem, Rule, ShapeRow } from '../../api/types';
import { indent } from '../../common/place';
import { KindSelect, name, type ShapeWish } from '../../contracts';
import { BranchSelect } from './BranchSelect';
import { EmptyRule } from './EmptyRule';
import { GiveSecret } from './GiveSecret';
import { KindRules } from './KindRules';
import { ListRule } from './ListRule';
import { byRule } from './kindRules';
import { RepeatRule } from './RepeatRule';
import { ShowValue } from './ShowValue';
import { ruleOf } from './values';
import css from './FillRow.module.css';

/** What can be done with a row. The same object for all rows and renders, so that only changed rows are drawn again. */
export interface RowActs {
  put: (r: Rule) => void;
  /** Gives a repeating row once more. */
  another: (path: string) => void;
  /** Takes one of several occurrences away. */
  drop: (path: string) => void;
  edit: (path: string) => void;
  /** Lays out what is inside a recursive row. */
  open: (path: string) => void;
  /** Folds what is inside a row away, or shows it again. */
  fold: (path: string, away: boolean) => void;
}

export interface FillRowProps {
  row: ShapeRow;
  wish: ShapeWish;
  rows: ShapeRow[];
  rule?: Rule;
  acts: RowActs;
  ghost?: FillView['suggestions'][number];
  problem?: Problem;
  becomes?: string[];
  unfilled: boolean;
  /** What the call goes over; undefined while none is chosen. */
  connection?: string;
  editing: boolean;
  editor: ReactNode;
  /** Whether keys are about it. */
  isCursor: boolean;
  /** Whether it has rows inside, and shows them. */
  nests?: 'open' | 'folded';
}

/** One row of the fill: element, type, occurs, value, becomes. */
export const FillRow = memo(function FillRow(props: FillRowProps) {
  const { row: r, wish, rule, acts, problem, becomes, unfilled, editing, isCursor, nests } = props;
  const mood = unfilled ? 'warn' : problem ? 'bad' : rule || becomes ? 'ok' : undefined;
  const about = [r.documentation, r.path].filter(Boolean).join('\n');
  return (
    <div
      className={`fillrow ${editing ? 'at' : ''} ${isCursor ? css.cursor : ''}`}
      role="row"
      aria-selected={isCursor}
      data-path={r.path}
    >
      <span role="gridcell" className={mood ? `st ${mood}` : ''} title={problem?.text} />
      <span role="gridcell" className="mono" style={indent(r.depth, 6)} title={about}>
        {nests && (
          <button
            className={`link bare soft ${css.fold}`}
            tabIndex={-1}
            aria-label={`${nests === 'open' ? 'fold' : 'unfold'} ${r.name}`}
            onClick={() => acts.fold(r.path, nests === 'open')}
          >
            {nests === 'open' ? '▾' : '▸'}
          </button>
        )}
        {name(r)}
        {r.only && <span className="soft small"> {r.only.join(', ')}</span>}
        {r.closed && (
          <button className={`link soft ${css.more}`} onClick={() => acts.open(r.path)}>
            open
          </button>
        )}
      </span>
      <span role="gridcell" className="soft small" title={[r.type, r.limits].filter(Boolean).join(': ')}>
        {rule?.kinds?.length ? (
          <KindRules row={r} wish={wish} rule={rule} put={acts.put} />
        ) : r.kinds ? (
          <KindSelect
            row={r}
            wish={wish}
            taken={rule?.kind}
            take={(k) => acts.put({ ...rule, path: r.path, kind: k || undefined })}
            byRule={() => acts.put({ ...rule, path: r.path, kind: undefined, kinds: byRule(rule, r.kinds?.[0]?.id) })}
          />
        ) : (
          r.type
        )}
      </span>
      <span role="gridcell" className="soft num small">
        {r.occurs}
      </span>
      <Value {...props} />
      <Becomes {...props} />
    </div>
  );
});

function Value(props: FillRowProps) {
  const { row: r, rows, rule, acts, editor } = props;
  if (r.kind === 'choice')
    return (
      <span role="gridcell">
        <BranchSelect
          row={r}
          rows={rows}
          taken={rule?.branch}
          take={(b) => acts.put({ ...rule, path: r.path, branch: b })}
        />
      </span>
    );
  if (editor)
    return (
      <span role="gridcell" className={css.editor}>
        {editor}
      </span>
    );
  if (!r.hasText && !r.repeated) return <Inside {...props} />;
  return <Cell {...props} />;
}

/** A row with others inside: all of them can be taken from one field, or it is nil. */
function Inside({ row: r, rule, acts, ghost }: FillRowProps) {
  return (
    <span role="gridcell" className={`small ${css.inside}`}>
      {r.kind === 'element' && (
        <button className={css.value} title="all that is inside, by name" onClick={() => acts.edit(r.path)}>
          <span className="unseen">value of {r.name}</span>
          {rule?.xpath ? (
            <>
              <ShowValue rule={rule} ghost={rule ? undefined : ghost} /> <span className="soft">as it is</span>
            </>
          ) : (
            <span className="faint">or take a field as it is</span>
          )}
        </button>
      )}
      {r.nillable && (
        <button
          className="link soft"
          onClick={() => acts.put({ ...rule, path: r.path, whenEmpty: rule?.whenEmpty === 'NIL' ? undefined : 'NIL' })}
        >
          {rule?.whenEmpty === 'NIL' ? 'nil' : 'make nil'}
        </button>
      )}
    </span>
  );
}

/** The value at rest: choosing it edits it, a field can be dropped on it. */
function Cell({ row: r, rule, acts, ghost: suggested }: FillRowProps) {
  const [over, setOver] = useState(false);
  const ghost = rule ? undefined : suggested;
  const mend = rule ? suggested : undefined;
  const drop = (e: DragEvent) => {
    e.preventDefault();
    setOver(false);
    const field = e.dataTransfer.getData('text/plain');
    if (field) acts.put(ruleOf(r, rule, field));
  };
  return (
    <div role="gridcell" className={`cell ${over ? 'over' : ''}`}>
      <button
        className={css.value}
        onClick={() => acts.edit(r.path)}
        onFocus={(e) => {
          if (e.target.matches(':focus-visible')) acts.edit(r.path);
        }}
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={drop}
      >
        <span className="unseen">value of {r.name}</span>
        <ShowValue rule={rule} ghost={ghost} />
        {r.repeated && !r.hasText && !rule?.each && !ghost && (
          <span className="soft small">once; drop a repeating field</span>
        )}
      </button>
      {mend && (
        <button
          className={`ghost cut ${css.mend}`}
          aria-label={`convert ${r.name}`}
          title={`${mend.reason}: ${mend.xpath}`}
          onClick={() => acts.put(ruleOf(r, rule, mend.xpath))}
        >
          {mend.xpath.replace(/\(.*$/s, '(…)')}
        </button>
      )}
      <Deeds row={r} rule={rule} acts={acts} />
      {r.occurrence != null && r.occurrence > 1 && (
        <button className="link soft small" title="Take this one away" onClick={() => acts.drop(r.path)}>
          drop
        </button>
      )}
    </div>
  );
}

/** What else can be said of a row's value. What is rarely wanted takes its room when the mark is pointed at. */
function Deeds({ row: r, rule, acts }: Pick<FillRowProps, 'row' | 'rule' | 'acts'>) {
  return (
    <span className="more">
      {rule?.each && !r.hasText && (
        <button
          className={`link small nowrap ${rule.xpath ? '' : 'soft quiet'}`}
          aria-pressed={!!rule.xpath}
          title="all that is inside, by name; rules inside go first"
          onClick={() => acts.put({ ...rule, xpath: rule.xpath ? undefined : '.' })}
        >
          {rule.xpath ? 'as it is' : 'take as it is'}
        </button>
      )}
      {rule?.each && <RepeatRule row={r} rule={rule} put={acts.put} />}
      {rule?.each && (
        <button
          className="link bare soft"
          aria-label={`clear ${r.name}`}
          title="no longer for each of these"
          onClick={() => acts.put({ ...rule, each: undefined, xpath: undefined })}
        >
          ×
        </button>
      )}
      {rule?.xpath && r.hasText && !rule.secret && <ListRule row={r} rule={rule} put={acts.put} />}
      {rule && r.hasText && !rule.secret && <EmptyRule row={r} rule={rule} put={acts.put} />}
      {r.repeated && (
        <button
          className={`link soft small nowrap ${rule?.each ? 'quiet' : ''}`}
          title="Give this row once more"
          onClick={() => acts.another(r.path)}
        >
          + another
        </button>
      )}
      {rule && (
        <span className="mark" aria-hidden>
          ▾
        </span>
      )}
    </span>
  );
}

function Becomes({ problem, becomes, unfilled, rule, connection, editing }: FillRowProps) {
  const wrong = !!problem && !unfilled;
  const values = becomes?.map((b) => b ?? '–').join(', ');
  return (
    <span role="gridcell" className={wrong ? 'wrong' : 'soft'} title={problem?.text ?? values}>
      {wrong && problem.code === 'secret' && rule?.secret && connection && !editing && (
        <GiveSecret name={rule.secret} connection={connection} />
      )}
      {wrong ? problem.text : values || (unfilled ? 'required' : '')}
    </span>
  );
}
