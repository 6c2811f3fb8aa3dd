import { Checkbox } from 'antd';
import type { RunView } from '../api/types';
import { count } from '../common/format';
import { Empty, ErrorText } from '../common/ui';
import { TrayBar } from './TrayBar';
import { TrayRow } from './TrayRow';
import { useTray } from './useTray';
import css from './TrayGrid.module.css';

interface Props {
  run: RunView;
  step?: string;
  record?: number;
  onTrail: (n: number) => void;
}

/** The records that wait: by reason, their values mended in place, and sent again. */
export function TrayGrid({ run, step, record, onTrail }: Props) {
  const tray = useTray(run, step);
  if (tray.isEmpty) return <NobodyWaits run={run} />;
  const { records, fields, chosen } = tray;
  return (
    <div
      className={css.frame}
      role="group"
      aria-label="waiting records"
      onKeyDown={(e) => {
        if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) {
          e.preventDefault();
          // The value being typed is mended by this.
          (document.activeElement as HTMLElement).blur();
          if (tray.canSend && !tray.again.isPending) tray.again.mutate(false);
        }
      }}
    >
      <TrayBar run={run} step={step} tray={tray} />
      <div className="scroll">
        {tray.again.isError && <ErrorText error={tray.again.error} />}
        <table className="grid">
          <thead>
            <tr>
              <th className={css.cell}>
                <Checkbox
                  aria-label="choose all"
                  checked={chosen.size > 0 && chosen.size === records.length}
                  indeterminate={chosen.size > 0 && chosen.size < records.length}
                  onChange={(e) => tray.choose(e.target.checked)}
                />
              </th>
              <th className="n">#</th>
              <th>reason</th>
              {fields.map((f) => (
                <th key={f} className="mono">
                  {f}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {records.map((r) => (
              <TrayRow
                key={r.number}
                row={r}
                fields={fields}
                chosen={chosen.has(r.number)}
                toggle={() => tray.toggle(r.number)}
                on={record === r.number}
                trail={() => onTrail(r.number)}
                mend={tray.mend}
              />
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}

const NobodyWaits = ({ run }: { run: RunView }) => (
  <Empty title={run.state === 'running' ? 'No record waits so far' : 'No record waits'}>
    {run.state === 'running'
      ? 'Records that fail are set aside here with their reason.'
      : run.read === 1
        ? 'The one record went through. Find it by any value to see its trail.'
        : `All ${count(run.read)} records went through. Find one by any value to see its trail.`}
  </Empty>
);
