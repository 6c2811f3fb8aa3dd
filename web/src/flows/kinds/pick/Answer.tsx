import { Button, Checkbox } from 'antd';
import type { KeyboardEvent } from 'react';
import type { RecordKind, Tree } from '../../../api/types';
import { TreeView } from '../../../common/TreeView';
import { isLeaf, plain, toXPath } from './paths';
import { resultName, ticked, xpathOf } from './picking';
import css from './Answer.module.css';

interface Props {
  /** None while there is no answer to pick from. */
  reply?: Tree;
  isPending: boolean;
  kinds: RecordKind[];
  editKind: (at: number) => (change: (k: RecordKind) => RecordKind) => void;
  /** Makes the call; not there without one. */
  tryIt?: () => void;
  isTrying: boolean;
}

/** The answer, with a tick for each kind of records before every value, and its number where one record is. */
export function Answer({ reply, isPending, kinds, editKind, tryIt, isTrying }: Props) {
  const toggle = (at: number, path: string, text?: string) => editKind(at)((k) => ticked(k, path, text));
  const before = (path: string, node: Tree) => {
    if (path === '') return null;
    const here = toXPath(plain(path));
    const isOne = kinds.map((k, i) => (k.each === here ? i + 1 : 0)).filter((n) => n > 0);
    return (
      <>
        {isOne.map((n) => (
          <span key={n} className={css.number} title={`one record of $${resultName(kinds[n - 1])} is each of this`}>
            {n}
          </span>
        ))}
        {isLeaf(node) && <Ticks path={path} text={node.text} kinds={kinds} toggle={toggle} />}
      </>
    );
  };
  return (
    <div className={`scroll ${css.answer}`}>
      <h2 className={css.heading}>The answer</h2>
      {kinds.length > 1 && <p className={`soft small ${css.hint}`}>Tick into a record kind, or press its number.</p>}
      {reply ? (
        <TreeView root={reply} extra={before} />
      ) : isPending ? null : (
        <div className="soft">
          <p>{tryIt ? 'An answer is needed to pick from.' : 'There is no call before this step to pick from.'}</p>
          <Button type="primary" disabled={!tryIt} loading={isTrying} onClick={tryIt}>
            Try the call for the specimen
          </Button>
        </div>
      )}
    </div>
  );
}

interface TicksProps {
  path: string;
  text?: string;
  kinds: RecordKind[];
  toggle: (at: number, path: string, text?: string) => void;
}

function Ticks({ path, text, kinds, toggle }: TicksProps) {
  const byNumber = (e: KeyboardEvent) => {
    const n = Number(e.key);
    if (!(n >= 1 && n <= kinds.length)) return;
    e.preventDefault();
    e.stopPropagation();
    toggle(n - 1, path, text);
  };
  return (
    // eslint-disable-next-line jsx-a11y/no-static-element-interactions
    <span className={css.ticks} onKeyDown={byNumber}>
      {kinds.map((k, i) => (
        <Checkbox
          key={i}
          aria-label={kinds.length > 1 ? `take ${path} into ${i + 1}` : `take ${path}`}
          checked={k.columns.some((c) => c.xpath === xpathOf(k.each, path))}
          onChange={() => toggle(i, path, text)}
        />
      ))}
    </span>
  );
}
