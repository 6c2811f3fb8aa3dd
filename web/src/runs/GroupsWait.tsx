import { useMutation } from '@tanstack/react-query';
import { Button } from 'antd';
import { api } from '../api/client';
import type { RunView } from '../api/types';
import { plural } from '../common/format';
import { ErrorText } from '../common/ui';
import css from './RunPage.module.css';

/** Groups that wait for records which are set aside or in doubt: they may go on without them. */
export function GroupsWait({ run, onDone }: { run: RunView; onDone: () => void }) {
  const goOn = useMutation({ mutationFn: () => api.post(`/runs/${run.id}/groups`), onSuccess: onDone });
  const waiting = plural(run.setAside + run.inDoubt, 'record');
  return (
    <div className={`notice warn ${css.notice}`}>
      {plural(run.gathered, 'record')} gathered. Their groups wait for {waiting} set aside or in doubt.{' '}
      <Button size="small" loading={goOn.isPending} onClick={() => goOn.mutate()}>
        Go on without them
      </Button>
      {goOn.isError && <ErrorText error={goOn.error} />}
    </div>
  );
}
