import { useMutation, useQueryClient } from '@tanstack/react-query';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { isLive } from '../app/environment';
import { count, plural, when } from '../common/format';
import { Status } from '../common/ui';
import { inWords } from './duration';
import { useConnectionState } from './queries';
import css from './SettingsTable.module.css';
import type { ConnectionDraft } from './useConnectionDraft';

const SECOND = 1000;

/** How calls stand at this moment, in each environment: those made and waiting, the circuit, the session. */
export function NowRow({ d }: { d: ConnectionDraft }) {
  const states = useConnectionState(d.name, true).data ?? [];
  return (
    <div className={css.row}>
      <span className={css.label}>now</span>
      {d.edited.environments.map((e, i) => (
        <span key={i} className={`${css.cell} ${isLive(e.name) ? css.inEarnest : ''}`}>
          <Now name={d.name} state={states.find((s) => s.environment === e.name)} />
        </span>
      ))}
    </div>
  );
}

function Now({ name, state: s }: { name: string; state?: Api<'ConnectionState'> }) {
  const queries = useQueryClient();
  const reset = useMutation({
    mutationFn: () => api.post(`/connections/${seg(name)}/state/reset`, { environment: s?.environment }),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['connection-state', name] }),
  });
  if (!s) return null;
  return (
    <span className={css.now}>
      <span className="num">
        {count(s.now)} <span className="soft">{s.now === 1 ? 'call' : 'calls'}</span>
        {s.waiting > 0 && <span className="soft">, {count(s.waiting)} waiting</span>}
      </span>
      {s.isOpen && (
        <>
          <Status mood="warn">not reached {count(s.failures)} times, all wait</Status>
          <button className="link small" onClick={() => reset.mutate()}>
            {s.asksInMillis > 0
              ? `asks in ${inWords(Math.ceil(s.asksInMillis / SECOND) * SECOND)}: now`
              : 'let all go on'}
          </button>
        </>
      )}
      {s.sessionSince && (
        <>
          <Status mood="ok">a session since {when(s.sessionSince)}</Status>
          <span className="soft num">{plural(s.sessionCalls ?? 0, 'call')}</span>
          <button className="link soft small" onClick={() => reset.mutate()}>
            end it
          </button>
        </>
      )}
    </span>
  );
}
