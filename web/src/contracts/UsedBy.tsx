import { Link } from 'react-router';
import { seg } from '../api/client';
import css from './UsedBy.module.css';
import { useUses } from './queries';
import { Heading } from './Heading';

export function UsedBy({ name, current }: { name: string; current: number }) {
  const uses = useUses();
  const mine = (uses.data ?? []).filter((u) => u.contract === name);
  return (
    <>
      <Heading>Used by</Heading>
      {mine.length === 0 ? (
        <div className={`soft ${css.inset3}`}>No flow calls it yet.</div>
      ) : (
        mine.map((u) => (
          <div key={`${u.flow}/${u.step}`} className={`row ${css.inset3}`}>
            <Link to={`/flows/${u.flow}?step=${u.step}`}>{u.name}</Link>
            <span className="soft">
              step {u.step}, {u.operation}
            </span>
            {u.version && u.version !== current ? (
              <Link className="st warn" to={`/contracts/${seg(name)}?show=changes&from=${u.version}&to=${current}`}>
                made for version {u.version}
              </Link>
            ) : (
              <span className="faint small">version {u.version ?? current}</span>
            )}
          </div>
        ))
      )}
    </>
  );
}
