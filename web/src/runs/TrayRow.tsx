import { useMutation } from '@tanstack/react-query';
import { Checkbox, Input } from 'antd';
import { useState } from 'react';
import type { Waiting } from '../api/types';
import { wide } from '../common/place';
import { Status } from '../common/ui';
import type { TrayState } from './useTray';
import { partsOf } from './tray';
import css from './TrayRow.module.css';

interface Props {
  row: Waiting;
  fields: string[];
  chosen: boolean;
  toggle: () => void;
  on: boolean;
  trail: () => void;
  mend: TrayState['mend'];
}

/** A record that waits, with its reason; its values can be changed where they stand. */
export function TrayRow({ row: r, fields, chosen, toggle, on, trail, mend }: Props) {
  return (
    <tr className={on ? 'on' : ''}>
      <td>
        <Checkbox aria-label={`choose record ${r.number}`} checked={chosen} disabled={r.isSending} onChange={toggle} />
      </td>
      <td className="n">
        <button className="link num" title="show its trail" onClick={trail}>
          {r.number}
        </button>
      </td>
      <td className={css.cell2}>
        <div className="cut soft" title={r.reason}>
          {r.isSending && <Status mood="busy">being sent</Status>}
          {r.inDoubt && <Status mood="warn">in doubt</Status>}{' '}
          {r.records > 1 && <span className="num">group of {r.records}: </span>}
          {partsOf(r.path) && <span className="num">{partsOf(r.path)}: </span>}
          {r.reason}
        </div>
      </td>
      {fields.map((f) => (
        <Cell key={f} row={r} field={f} mend={mend} />
      ))}
    </tr>
  );
}

function Cell({ row, field, mend }: { row: Waiting; field: string; mend: TrayState['mend'] }) {
  const value = row.record[field] ?? '';
  const was = row.original?.[field];
  const [text, setText] = useState<string>();
  // Begun before it is handed over, so that a sending that follows at once waits for it.
  const mending = useMutation({ mutationFn: (begun: Promise<Waiting>) => begun });
  const end = () => {
    if (text !== undefined && text !== value) mending.mutate(mend(row.number, field, text));
    setText(undefined);
  };
  const changed = was !== undefined && was !== value;
  return (
    <td className={css.cell3}>
      <Input
        size="small"
        className={`mono ${css.value} ${changed ? css.changed : ''}`}
        variant={changed || text !== undefined ? 'outlined' : 'borderless'}
        aria-label={`${field} of record ${row.number}`}
        style={wide(Math.max(84, Math.min(190, (text ?? value).length * 8 + 14)))}
        status={mending.isError ? 'error' : undefined}
        placeholder="blank"
        value={text ?? value}
        onChange={(e) => setText(e.target.value)}
        onBlur={end}
        onKeyDown={(e) => {
          if (e.key === 'Enter' && !e.ctrlKey) (e.target as HTMLInputElement).blur();
          if (e.key === 'Escape') setText(undefined);
        }}
      />
      {changed && <span className={`faint small ${css.text2}`}>{was || 'blank'}</span>}
    </td>
  );
}
