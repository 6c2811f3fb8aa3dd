import { useQuery } from '@tanstack/react-query';
import { Button, Popover } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import type { Api, RunView } from '../api/types';
import { count, plural } from '../common/format';
import { ErrorText, Status } from '../common/ui';
import type { TrayState } from './useTray';
import css from './StartOver.module.css';

/** Sends records again from their first step: it says first which calls, answered already, are made once more. */
export function StartOver({ run, tray: t }: { run: RunView; tray: TrayState }) {
  const [open, setOpen] = useState(false);
  const calls = useQuery({
    queryKey: ['answered', run.id, t.numbers],
    enabled: open && t.numbers.length > 0,
    queryFn: ({ signal }) => api.post<Api<'Answered'>[]>(`/runs/${run.id}/answered`, { numbers: t.numbers }, signal),
  });
  const unsafe = calls.data?.filter((c) => !c.isSafe).reduce((n, c) => n + c.calls, 0) ?? 0;
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      placement="bottomRight"
      content={
        <div className={css.box}>
          <div className="soft small">
            The service has answered these calls already. <i>Send again</i> uses the answers; starting over makes the
            calls once more.
          </div>
          {calls.isError && <ErrorText error={calls.error} />}
          <table className={`small ${css.calls}`}>
            <tbody>
              {calls.data?.map((c) => (
                <tr key={c.step}>
                  <td className="n num">{count(c.calls)} ×</td>
                  <td>
                    {c.title}
                    <div className="soft num">records {c.numbers.join(', ')}</div>
                  </td>
                  <td>
                    <Status mood={c.isSafe ? 'ok' : 'warn'}>{c.isSafe ? 'safe to repeat' : 'not safe'}</Status>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          <Button
            size="small"
            danger={unsafe > 0}
            disabled={!calls.data || t.again.isPending}
            onClick={() => {
              setOpen(false);
              t.again.mutate(true);
            }}
          >
            {unsafe ? `Make ${plural(unsafe, 'unsafe call')} again` : 'Start over'}
          </Button>
        </div>
      }
    >
      <Button size="small" disabled={!t.canSend}>
        Start over …
      </Button>
    </Popover>
  );
}
