import { Button, Input, Popover } from 'antd';
import { useState } from 'react';
import type { Rule, ShapeRow } from '../../api/types';
import { KindSelect, type ShapeWish } from '../../contracts';
import css from './KindRules.module.css';
import { kindWord, withKind } from './kindRules';

interface Props {
  row: ShapeRow;
  wish: ShapeWish;
  rule: Rule;
  put: (r: Rule) => void;
}

/** The kinds that items of a row may be of: each is of the first whose condition holds. */
export function KindRules({ row, wish, rule, put }: Props) {
  const kinds = rule.kinds ?? [];
  const [isOpen, setOpen] = useState(kinds.length === 1);
  const change = (to: NonNullable<Rule['kinds']>) =>
    put({ ...rule, path: row.path, kinds: to.length > 0 ? to : undefined });
  const editor = (
    <div
      className={css.editor}
      role="presentation"
      onKeyDown={(e) => {
        if (e.key === 'Escape') setOpen(false);
      }}
    >
      <div className="soft small">Each is of the first kind whose condition holds; the last one needs none.</div>
      {kinds.map((k, i) => (
        <div key={i} className="row">
          <KindSelect
            row={row}
            wish={wish}
            bordered
            taken={k.kind}
            take={(kind) => change(withKind(kinds, i, { ...k, kind }))}
          />
          <span className="soft">when</span>
          <Input
            size="small"
            aria-label={`condition of ${kindWord(k.kind)}`}
            className={`mono ${css.when}`}
            placeholder="else"
            value={k.when ?? ''}
            onChange={(e) => change(withKind(kinds, i, { ...k, when: e.target.value || undefined }))}
          />
          <Button
            size="small"
            type="text"
            aria-label={`remove ${kindWord(k.kind)}`}
            onClick={() => change(kinds.filter((_, at) => at !== i))}
          >
            ×
          </Button>
        </div>
      ))}
      <div>
        <Button size="small" onClick={() => change([...kinds, { kind: row.kinds?.[0]?.id ?? '' }])}>
          Add a kind
        </Button>
      </div>
    </div>
  );
  return (
    <Popover content={editor} trigger="click" open={isOpen} onOpenChange={setOpen} placement="bottomLeft">
      <button className="link" aria-label={`kinds of ${row.name}`}>
        {kinds.map((k) => kindWord(k.kind)).join(', ')}
      </button>
    </Popover>
  );
}
