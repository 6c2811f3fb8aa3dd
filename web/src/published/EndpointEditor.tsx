import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { EndpointView, QueueTrigger } from '../api/types';
import { when } from '../common/format';
import { Toolbar } from '../common/Panel';
import { ErrorText, Status } from '../common/ui';
import { useUndo } from '../common/useUndo';
import { QueueDesk } from '../connections';
import { endpointChangeOf, endpointDraftOf, whereOf, type EndpointDraft } from './endpoint';
import { EndpointFields } from './EndpointFields';
import { EndpointState } from './PublishedList';
import { endpointKeys } from './queries';
import { PagePreview } from './ThePage';
import { TryIt } from './TryIt';
import css from './EndpointEditor.module.css';

interface Props {
  begin?: EndpointDraft;
  kept?: EndpointView;
  /** Names that a new one cannot have. */
  taken?: string[];
}

/** What a flow is asked by: a new one that begins as given, or one that is kept and can be tried. */
export function EndpointEditor({ begin, kept, taken = [] }: Props) {
  const go = useNavigate();
  const queries = useQueryClient();
  const [changed, setChanged] = useState<EndpointDraft | undefined>(begin);
  const draft = changed ?? (kept ? endpointDraftOf(kept) : undefined);
  const refresh = () => queries.invalidateQueries({ queryKey: endpointKeys.all });
  const keep = useMutation({
    // Whether it is on is said apart: it may have been paused since the change began.
    mutationFn: (d: EndpointDraft) =>
      api.put(
        `/endpoints/${seg(d.name.trim())}`,
        endpointChangeOf({ ...d, on: kept ? kept.on : d.on, version: kept ? kept.version : d.version }),
      ),
    onSuccess: async (_, d) => {
      await refresh();
      setChanged(undefined);
      void go(`/published/${seg(d.name.trim())}`);
    },
  });
  if (!draft) return null;
  const isTaken = !kept && taken.includes(draft.name.trim());
  return (
    <section className={`panel ${css.editor}`} aria-label="endpoint">
      <Toolbar>
        {kept ? (
          <span className={`${(kept.after ?? kept.rows) ? '' : 'mono'} strong ${css.where}`}>{whereOf(kept)}</span>
        ) : (
          <h2>A flow that others ask</h2>
        )}
        {kept && (
          <span className="soft">
            {kept.name} · <Link to={`/flows/${kept.flow}`}>its flow</Link>
          </span>
        )}
        <span className="push" />
        {isTaken && <Status mood="bad">there is something of this name</Status>}
        {changed && (
          <>
            {kept && (
              <button className="link soft" onClick={() => setChanged(undefined)}>
                leave it as it was
              </button>
            )}
            <Button
              type="primary"
              disabled={isTaken || !endpointChangeOf(draft)}
              loading={keep.isPending}
              onClick={() => keep.mutate(draft)}
            >
              {kept ? 'Keep' : 'Publish'}
            </Button>
          </>
        )}
        {kept && !changed && <Deeds of={kept} refresh={refresh} />}
      </Toolbar>
      <ErrorText error={keep.error} />
      {kept?.state === 'failed' && (
        <p className={`st bad ${css.inset}`}>It does not answer: {kept.why} It is tried again by itself.</p>
      )}
      <div className={css.body}>
        <EndpointFields
          draft={draft}
          set={(by) => setChanged({ ...draft, ...by })}
          kept={kept}
          inputs={kept?.inputs ?? []}
        />
        {draft.page ? (
          <PagePreview draft={draft} page={draft.page} kept={kept} />
        ) : kept ? (
          <TryIt key={kept.version} of={kept} />
        ) : (
          <p className={`soft ${css.later}`}>
            Published, it is tried here: what goes in, what the flow gets of it, and what comes out.
          </p>
        )}
      </div>
      {kept && !changed && <Notes of={kept} />}
      {kept?.queue && !changed && <Queues of={kept} by={kept.queue} />}
    </section>
  );
}

/** What there is more to say of than records do. */
const Notes = ({ of: e }: { of: EndpointView }) =>
  e.notes.map((n) => (
    <p key={n.at} className={css.inset}>
      <Status mood="bad">{n.text}</Status>{' '}
      <span className="soft">
        {when(n.at)}
        {n.run !== undefined && (
          <>
            , <Link to={`/runs/${n.run}`}>run {n.run}</Link>
          </>
        )}
      </span>
    </p>
  ));

/** The queues that it has to do with. */
function Queues({ of: e, by }: { of: EndpointView; by: QueueTrigger }) {
  const queues = [by.queue, by.replies, by.failed].filter((q) => q !== undefined);
  return <QueueDesk at={{ connection: by.connection, environment: e.environment }} only={queues} />;
}

/** Pause, versions, removing. */
function Deeds({ of: e, refresh }: { of: EndpointView; refresh: () => Promise<void> }) {
  const go = useNavigate();
  const undo = useUndo();
  const at = `/endpoints/${seg(e.name)}`;
  const turn = useMutation({
    mutationFn: (on: boolean) => api.post(`${at}/turn`, { on }),
    onSuccess: refresh,
  });
  const live = useMutation({
    mutationFn: (version: number) => api.post(`${at}/live`, { version }),
    onSuccess: refresh,
  });
  const remove = useMutation({
    mutationFn: async () => api.delete(at),
    onSuccess: async () => {
      await refresh();
      void go('/published');
      undo(`Removed ${e.name}.`, async () => {
        await api.put(at, endpointChangeOf(endpointDraftOf(e)));
        await refresh();
      });
    },
  });
  const error = turn.error ?? live.error ?? remove.error;
  return (
    <>
      <EndpointState of={e} />
      <span className="soft nowrap">
        v{e.version} {e.liveSince ? `in use since ${when(e.liveSince)}` : ''}
      </span>
      {e.newest > e.version && (
        <Button loading={live.isPending} onClick={() => live.mutate(e.newest)}>
          Switch to v{e.newest}
        </Button>
      )}
      {e.version > 1 && (
        <Button disabled={live.isPending} onClick={() => live.mutate(e.version - 1)}>
          Back to v{e.version - 1}
        </Button>
      )}
      {e.run !== undefined && <Link to={`/runs/${e.run}`}>run {e.run}</Link>}
      <Button loading={turn.isPending} onClick={() => turn.mutate(!e.on)}>
        {e.on ? 'Pause' : 'Go on'}
      </Button>
      <Button loading={remove.isPending} onClick={() => remove.mutate()}>
        Remove
      </Button>
      {error && <ErrorText error={error} />}
    </>
  );
}
