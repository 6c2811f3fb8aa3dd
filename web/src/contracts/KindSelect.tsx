import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Select } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api, ShapeRow } from '../api/types';
import type { ShapeWish } from './shape';
import css from './KindSelect.module.css';

/** No kind is called so. */
const BY_RULE = '\u0000';

function kindsOf({ contract, document, ...shape }: ShapeWish, path: string, text: string, signal: AbortSignal) {
  return document
    ? api.post<Api<'KindList'>>(`/data/shapes/${seg(document)}/kinds`, { path, text, kinds: shape.kinds }, signal)
    : api.post<Api<'KindList'>>(`/contracts/${seg(contract)}/kinds`, { shape, path, text }, signal);
}

/**
 * The concrete types and substitutes a row can be; a base of a large system has thousands, so they are searched on the
 * server.
 */
export function KindSelect({
  row: r,
  wish,
  taken,
  take,
  bordered,
  byRule,
}: {
  row: ShapeRow;
  wish: ShapeWish;
  taken?: string;
  take: (kind: string) => void;
  bordered?: boolean;
  /** Lets a rule decide it for each item; where that is offered. */
  byRule?: () => void;
}) {
  const [text, setText] = useState('');
  const [open, setOpen] = useState(false);
  const many = useQuery({
    queryKey: ['kinds', wish, r.path, text],
    enabled: !!r.moreKinds && open,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => kindsOf(wish, r.path, text, signal),
  });
  const listed = r.moreKinds ? (many.data?.kinds ?? []) : (r.kinds ?? []);
  const kinds =
    taken && !text && !listed.some((k) => k.id === taken)
      ? [{ id: taken, name: taken.slice(taken.lastIndexOf('}') + 1) }, ...listed]
      : listed;
  const hidden = r.moreKinds && many.data ? many.data.total - many.data.kinds.length : 0;
  const count = r.moreKinds ?? listed.length;
  const declared =
    r.isAbstract || text ? [] : [{ value: '', label: r.type ? `${r.type}, as declared` : 'as declared' }];
  return (
    <Select
      size="small"
      variant={bordered ? 'outlined' : 'borderless'}
      className={bordered ? css.bordered : css.inline}
      aria-label={`kind of ${r.name}`}
      placeholder={r.isAbstract ? `one of ${count} kinds` : 'as declared'}
      allowClear={bordered}
      showSearch={
        count > 8
          ? {
              filterOption: r.moreKinds
                ? false
                : (input, o) => String(o?.label).toLowerCase().includes(input.toLowerCase()),
              onSearch: setText,
            }
          : false
      }
      onOpenChange={(o) => {
        setOpen(o);
        if (!o) setText('');
      }}
      value={taken || (r.isAbstract ? undefined : '')}
      onChange={(k) => (k === BY_RULE ? byRule?.() : take(k ?? ''))}
      popupMatchSelectWidth={false}
      options={[
        ...declared,
        ...kinds.map((k) => ({ value: k.id, label: k.name })),
        ...(byRule ? [{ value: BY_RULE, label: 'by a rule…' }] : []),
        ...(hidden > 0 ? [{ value: ' ', label: `${hidden} more: type to find one`, disabled: true }] : []),
      ]}
    />
  );
}
