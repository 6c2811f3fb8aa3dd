import { rowOf } from '../common/problems';
import { plural } from '../common/format';
import { Status } from '../common/ui';
import type { BenchModel, BenchRules } from './useBench';
import css from './BenchFoot.module.css';

/** What is to be said of the request before it is sent, the most important alone. */
export const BenchFoot = ({ bench }: { bench: BenchModel }) => (
  <div className={`soft ${css.foot}`}>
    <Said bench={bench} />
  </div>
);

function Said({ bench: b }: { bench: BenchModel }) {
  if (b.xml !== null && b.read?.problem)
    return (
      <Status mood="bad">
        {b.read.line ? `line ${b.read.line}: ` : ''}
        {b.read.problem}
      </Status>
    );
  if (b.xml !== null && b.read?.lost.length)
    return <Lost lost={b.read.lost} words="no row takes" then="; sent all the same, lost when you go back to rows" />;
  if (b.xml === null && b.left)
    return (
      <>
        <Lost lost={b.left.lost} words="of the XML left out" then="" />{' '}
        <button className="link" onClick={() => void b.show('xml')}>
          back to the XML
        </button>
      </>
    );
  const wrong = b.problems.filter((p) => p.code === 'value').length;
  if (wrong > 0)
    return (
      <>
        <Status mood="bad">
          {wrong} {wrong === 1 ? 'value does' : 'values do'} not fit
        </Status>{' '}
        &nbsp;sending is still possible; the service may refuse it
      </>
    );
  const unfilled = new Set(b.problems.map(rowOf)).size;
  if (unfilled > 0) return <Status mood="warn">{plural(unfilled, 'required row')} unfilled</Status>;
  const odd = b.message?.validation.at(0);
  return odd ? <Status mood="warn">{odd.text}</Status> : <Status mood="ok">the message fits its schema</Status>;
}

const Lost = ({ lost, words, then }: { lost: BenchRules['lost']; words: string; then: string }) => (
  <>
    <Status mood="warn">
      {plural(lost.length, 'part')} {words}
    </Status>{' '}
    <span title={lost.map((l) => `${rowOf(l)} ${l.text}`).join('\n')}>
      {rowOf(lost[0])} {lost[0].text}
      {then}
    </span>
  </>
);
