import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button } from 'antd';
import { api, seg } from '../../../api/client';
import type { TargetView } from '../../../api/types';
import { ErrorText } from '../../../common/ui';
import { nextFile } from './files';
import css from './HeaderMismatch.module.css';

/** The file that is to be added to has other columns: its own are taken, or another file is written. */
export function HeaderMismatch({ target, problem }: { target: TargetView; problem: string }) {
  const queries = useQueryClient();
  const done = { onSuccess: () => queries.invalidateQueries() };
  const path = `/data/targets/${seg(target.name)}`;
  const match = useMutation({ mutationFn: () => api.post(`${path}/match`), ...done });
  const file = nextFile(target.settings.file ?? '');
  const other = useMutation({
    mutationFn: () => api.put(path, { kind: target.kind, settings: { ...target.settings, file, columns: undefined } }),
    ...done,
  });
  return (
    <div className={`notice warn ${css.notice}`} role="alert">
      {problem}
      <div className={`row ${css.deeds}`}>
        <Button size="small" loading={match.isPending} onClick={() => match.mutate()}>
          Match by name
        </Button>
        <Button size="small" loading={other.isPending} onClick={() => other.mutate()}>
          Write to {file}
        </Button>
      </div>
      {(match.error ?? other.error) && <ErrorText error={match.error ?? other.error} />}
    </div>
  );
}
