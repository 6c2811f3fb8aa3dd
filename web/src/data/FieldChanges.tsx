import { useQuery } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Field, SourceUse } from '../api/types';
import { Status } from '../common/ui';
import { fieldChanges } from './fieldChanges';
import css from './FieldChanges.module.css';

const MOST = 8;

/** What is other than in the source as it is kept, before it is kept: flows that use what is gone are named. */
export function FieldChanges({ source, was, is }: { source: string; was: Field[]; is: Field[] }) {
  const uses = useQuery({
    queryKey: ['source-uses', source],
    queryFn: () => api.get<SourceUse[]>(`/data/sources/${seg(source)}/uses`),
  });
  const changes = fieldChanges(was, is, uses.data ?? []);
  if (changes.length === 0) return null;
  const breaks = changes.some((c) => c.usedBy.length > 0);
  return (
    <div className={`notice ${breaks ? 'warn' : ''} ${css.changes}`} aria-label="what is other than before">
      <Status mood={breaks ? 'warn' : 'idle'}>
        {breaks ? 'Fields that flows use are other than before' : 'Fields are other than before'}
      </Status>
      <ul className={css.list}>
        {changes.slice(0, MOST).map((c) => (
          <li key={c.field}>
            <span className="mono">{c.field}</span> {c.what}
            {c.usedBy.length > 0 && <span className="soft">, used by {c.usedBy.join(', ')}</span>}
          </li>
        ))}
        {changes.length > MOST && <li className="soft">and {changes.length - MOST} more</li>}
      </ul>
    </div>
  );
}
