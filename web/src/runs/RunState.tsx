import type { RunView } from '../api/types';
import { Status } from '../common/ui';

export function RunState({ run }: { run: RunView }) {
  if (run.state === 'running' && run.scope === 'requests') return <Status mood="ok">answers requests</Status>;
  if (run.state === 'running') return <Status mood="busy">{run.isStopping ? 'stopping' : 'running'}</Status>;
  if (run.state === 'finished')
    return run.setAside + run.inDoubt > 0 ? (
      <Status mood="warn">finished, records wait</Status>
    ) : (
      <Status mood="ok">finished</Status>
    );
  if (run.state === 'paused') return <Status mood="warn">paused</Status>;
  return run.state === 'stopped' ? <Status mood="idle">stopped</Status> : <Status mood="bad">interrupted</Status>;
}

export const scopeWords = (scope: string) =>
  scope === 'all'
    ? 'all records'
    : scope === 'requests'
      ? 'requests'
      : scope.startsWith('first:')
        ? `first ${scope.slice(6)}`
        : `record ${scope.slice(7)}`;
