import { Checkbox, Input, Popover } from 'antd';
import { useState } from 'react';
import type { Rule, ShapeRow } from '../../api/types';
import { repeated, takenApart, type Repeat } from './eachRule';
import css from './RepeatRule.module.css';

interface Props {
  row: ShapeRow;
  rule: Rule;
  put: (r: Rule) => void;
}

/** Which of what a row repeats over are taken, and in which order. */
export function RepeatRule({ row, rule, put }: Props) {
  const kept = takenApart(rule.each ?? '');
  const [draft, setDraft] = useState<Repeat>();
  const shown = draft ?? kept;
  const keep = (to: Repeat | undefined = draft) => {
    if (to && repeated(to) !== rule.each) put({ ...rule, path: row.path, each: repeated(to) });
    setDraft(undefined);
  };
  const field = (label: string, of: 'where' | 'order', placeholder: string) => (
    <label className="row">
      <span className={`soft ${css.label}`}>{label}</span>
      <Input
        size="small"
        className="mono"
        placeholder={placeholder}
        value={shown[of]}
        onChange={(e) => setDraft({ ...shown, [of]: e.target.value })}
        onBlur={() => keep()}
        onPressEnter={() => keep()}
      />
    </label>
  );
  const editor = (
    <div className={css.editor}>
      <div className="soft small">
        Of each <span className="mono">{kept.over}</span>; names are looked up in it.
      </div>
      {field('only where', 'where', 'weight > 3')}
      {field('ordered by', 'order', 'number(no)')}
      <Checkbox
        checked={shown.descending}
        disabled={!shown.order.trim()}
        onChange={(e) => keep({ ...shown, descending: e.target.checked })}
      >
        the last first
      </Checkbox>
    </div>
  );
  const isSet = !!kept.where || !!kept.order;
  return (
    <Popover
      content={editor}
      trigger="click"
      placement="bottomLeft"
      onOpenChange={(open) => {
        if (!open) keep();
      }}
    >
      <button
        className={`link small nowrap ${isSet ? '' : 'soft quiet'}`}
        aria-label={`which of ${row.name}`}
        title="Only some of them, or in another order"
      >
        {isSet ? [kept.where && 'some', kept.order && 'ordered'].filter(Boolean).join(', ') : 'which'}
      </button>
    </Popover>
  );
}
