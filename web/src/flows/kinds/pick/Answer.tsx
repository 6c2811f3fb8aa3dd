import { Button } from 'antd';
import { useMemo } from 'react';
import type { PickTrial, StepOf, Tree } from '../../../api/types';
import { TreeView } from '../../../common/TreeView';
import { ALL, isLeaf, leaves, plain, toXPath } from './paths';
import { kindsOf, resultName, shapeAt, shaped, ticked, withKind } from './picking';
import type { Known } from './places';
import { ShapeOfString } from './ShapeOfString';
import { Ticks, type Toggle } from './Ticks';
import { Unopened } from './Unopened';
import { Unseen } from './Unseen';
import css from './Answer.module.css';

type Pick = StepOf<'pick'>;

interface Props {
  /** None while there is no answer to pick from. */
  reply?: Tree;
  /** The same with its strings opened, and what is known of other answers. */
  known?: Known;
  tried?: PickTrial;
  isPending: boolean;
  step: Pick;
  edit: (change: (s: Pick) => Pick) => void;
  /** Looks at the answer to another record. */
  look: (number: number) => void;
  /** Makes the call; not there without one. */
  tryIt?: () => void;
  isTrying: boolean;
}

/** The answer, with a tick for each kind of records before every value, and its number where one record is. */
export function Answer({ reply, known, tried, isPending, step, edit, look, tryIt, isTrying }: Props) {
  const kinds = kindsOf(step);
  const types = useMemo(() => new Map(known ? leaves(known, '', ALL).map((l) => [l.path, l.type]) : []), [known]);
  const toggle: Toggle = (at, path, leaf) => edit((s) => withKind(s, at, (k) => ticked(k, path, leaf)));
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
        {isLeaf(node) && (
          <Ticks path={path} leaf={{ text: node.text, type: types.get(plain(path)) }} kinds={kinds} toggle={toggle} />
        )}
      </>
    );
  };
  return (
    <div className={`scroll ${css.answer}`}>
      <h2 className={css.heading}>The answer</h2>
      {kinds.length > 1 && <p className={`soft small ${css.hint}`}>Tick into a record kind, or press its number.</p>}
      {reply ? (
        <>
          {tried && <Unopened tried={tried} look={look} />}
          <TreeView
            root={reply}
            extra={before}
            above={(path, kind) => (
              <ShapeOfString
                kind={kind}
                value={shapeAt(step, path)}
                set={(shape) => edit((s) => shaped(s, path, shape))}
              />
            )}
          />
          {known && <Unseen answer={known} kinds={kinds} toggle={toggle} />}
        </>
      ) : isPending ? null : (
        <div className="soft">
          <p>{tryIt ? 'An answer is needed to pick from.' : 'There is no call before this step to pick from.'}</p>
          <Button type="primary" disabled={!tryIt} loading={isTrying} onClick={tryIt}>
            Try the call for the specimen
          </Button>
          {tried?.run && tried.answers > 0 && (
            <p>
              or{' '}
              <button className="link" onClick={() => look(tried.first)}>
                take the answer to record {tried.first} of run {tried.run}
              </button>
              , without calling
            </p>
          )}
        </div>
      )}
    </div>
  );
}
