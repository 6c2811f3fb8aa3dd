import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App, Button } from 'antd';
import { useNavigate } from 'react-router';
import { api } from '../api/client';
import type { RunView } from '../api/types';
import { count, plural } from '../common/format';
import { ErrorText } from '../common/ui';
import { GroupsWait } from './GroupsWait';

/** What a run that does not run asks for. */
export function GoOn(props: Props) {
  const { run } = props;
  if (run.state !== 'finished') return <NotDone {...props} />;
  return run.gathered > 0 ? <GroupsWait {...props} /> : null;
}

interface Props {
  run: RunView;
  onDone: () => void;
}

/**
 * A run that is not done: why, and the ways on. A paused one asks; going on may be told not to pause for this again.
 */
function NotDone({ run, onDone }: Props) {
  const go = useNavigate();
  const queries = useQueryClient();
  const { modal } = App.useApp();
  const resume = useMutation({
    mutationFn: (pauseAfter?: number) => api.post(`/runs/${run.id}/resume`, { pauseAfter: pauseAfter ?? null }),
    onSuccess: onDone,
  });
  const remove = useMutation({
    mutationFn: () => api.delete(`/runs/${run.id}`),
    onSuccess: () => {
      void queries.invalidateQueries();
      void go('/runs');
    },
  });
  // The trails and waiting records of a run cannot be brought back, so this one asks.
  const waiting = plural(run.setAside + run.inDoubt, 'waiting record');
  const ask = () =>
    modal.confirm({
      title: `Give run ${run.id} up?`,
      okText: 'Remove the run',
      okButtonProps: { danger: true },
      content: `${waiting} and all trails go with it. What was written stays where it is.`,
      onOk: () => remove.mutateAsync().catch(() => undefined),
    });
  const paused = run.state === 'paused';
  return (
    <div className="notice warn go-on">
      <div>
        {run.reason ?? run.state}. {count(run.read)} of {count(run.expected)} are accounted for.
      </div>
      <div className="row wrap go-on-deeds">
        <Button size="small" type="primary" loading={resume.isPending} onClick={() => resume.mutate(undefined)}>
          {paused ? 'Go on' : 'Resume'}
        </Button>
        {paused && (
          <Button size="small" disabled={resume.isPending} onClick={() => resume.mutate(0)}>
            Go on without pausing
          </Button>
        )}
        <Button size="small" type="text" onClick={ask}>
          Remove
        </Button>
      </div>
      {(resume.error ?? remove.error) && <ErrorText error={resume.error ?? remove.error} />}
    </div>
  );
}
