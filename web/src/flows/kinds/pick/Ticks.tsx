import { Checkbox } from 'antd';
import type { KeyboardEvent } from 'react';
import type { RecordKind } from '../../../api/types';
import type { Leaf } from './paths';
import { xpathOf } from './picking';
import css from './Answer.module.css';

export type Toggle = (at: number, path: string, leaf: Pick<Leaf, 'text' | 'type'>) => void;

interface Props {
  path: string;
  leaf: Pick<Leaf, 'text' | 'type'>;
  kinds: RecordKind[];
  toggle: Toggle;
}

/** A tick for each kind of records; a kind's number ticks, too. */
export function Ticks({ path, leaf, kinds, toggle }: Props) {
  const byNumber = (e: KeyboardEvent) => {
    const n = Number(e.key);
    if (!(n >= 1 && n <= kinds.length)) return;
    e.preventDefault();
    e.stopPropagation();
    toggle(n - 1, path, leaf);
  };
  return (
    // eslint-disable-next-line jsx-a11y/no-static-element-interactions
    <span className={css.ticks} onKeyDown={byNumber}>
      {kinds.map((k, i) => (
        <Checkbox
          key={i}
          aria-label={kinds.length > 1 ? `take ${path} into ${i + 1}` : `take ${path}`}
          checked={k.columns.some((c) => c.xpath === xpathOf(k.each, path))}
          onChange={() => toggle(i, path, leaf)}
        />
      ))}
    </span>
  );
}
