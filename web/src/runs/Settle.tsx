import { Button, Input, Popover } from 'antd';
import { useState } from 'react';
import { plural } from '../common/format';
import { ErrorText } from '../common/ui';
import type { TrayState } from './useTray';
import { AskLookUp } from './AskLookUp';
import css from './Settle.module.css';

const VERDICTS = [
  {
    verdict: 'happened',
    label: 'It happened',
    about: 'The call was done: the record counts as done. Nothing of it is written here.',
    doubtOnly: true,
  },
  {
    verdict: 'not happened',
    label: 'It did not happen',
    about: 'The call was not done: the record can go on, and is then sent.',
    doubtOnly: true,
  },
  { verdict: 'discarded', label: 'Discard', about: 'The record is given up.', doubtOnly: false },
];

/** Decides about the chosen records, with a reason; who and when is kept with them. */
export function Settle({ tray: t }: { tray: TrayState }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const doubts = t.records.filter((r) => t.chosen.has(r.number) && r.inDoubt).length;
  const shown = VERDICTS.filter((v) => !v.doubtOnly || doubts > 0);
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      placement="bottomRight"
      content={
        <div className={css.box}>
          <label className="field-label" htmlFor="settle-reason">
            Why; it is kept with your name and the time
          </label>
          <Input
            id="settle-reason"
            autoFocus
            value={reason}
            maxLength={1000}
            placeholder="asked the desk by phone"
            onChange={(e) => setReason(e.target.value)}
          />
          {doubts > 0 && <AskLookUp tray={t} />}
          {shown.map((v) => (
            <div key={v.verdict} className={css.verdict}>
              <Button
                size="small"
                danger={v.verdict === 'discarded'}
                disabled={!reason.trim()}
                loading={t.settle.isPending}
                onClick={() => {
                  t.settle.mutate(
                    { verdict: v.verdict, reason },
                    {
                      onSuccess: () => {
                        setOpen(false);
                        setReason('');
                      },
                    },
                  );
                }}
              >
                {v.label}
              </Button>
              <span className="soft small">{v.about}</span>
            </div>
          ))}
          {t.settle.isError && <ErrorText error={t.settle.error} />}
        </div>
      }
    >
      <Button size="small" disabled={t.chosen.size === 0}>
        Settle {t.chosen.size ? plural(t.chosen.size, 'record') : ''} …
      </Button>
    </Popover>
  );
}
