import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Select } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api, ShapeRow } from '../api/types';
import type { ShapeWish } from './MessageShapes';

/** The concrete types and substitutes a row can be; a base of a large system has thousands, so they are searched on the server. */
export function KindSelect({ row: r, wish, taken, take, bordered }: { row: ShapeRow; wish: ShapeWish; taken?: string; take: (kind: string) => void; bordered?: boolean }) {
  const [text, setText] = useState('');
  const { contract, ...shape } = wish;
  const more = useQuery({ queryKey: ['kinds', wish, r.path, text], enabled: !!r.moreKinds && text !== '', placeholderData: keepPreviousData,
    queryFn: ({ signal }) => api.post<Api<'KindList'>>(`/contracts/${seg(contract)}/kinds`, { shape, path: r.path, text }, signal) });
  const kinds = (text && r.moreKinds ? more.data?.kinds : r.kinds) ?? [];
  const count = r.kinds.length + (r.moreKinds ?? 0);
  const declared = r.isAbstract ? [] : [{ value: '', label: r.type ? `${r.type}, as declared` : 'as declared' }];
  return (
    <Select size="small" variant={bordered ? 'outlined' : 'borderless'} style={bordered ? { minWidth: 150 } : { width: '100%', marginLeft: -7 }} aria-label={`kind of ${r.name}`} placeholder={r.isAbstract ? `one of ${count} kinds` : 'as declared'} allowClear={bordered}
      showSearch={count > 8 ? { filterOption: r.moreKinds ? false : (input, o) => String(o?.label).toLowerCase().includes(input.toLowerCase()), onSearch: setText } : false}
      value={taken || (r.isAbstract ? undefined : '')} onChange={(k) => take(k ?? '')} popupMatchSelectWidth={false}
      options={[...declared, ...kinds.map((k) => ({ value: k.id, label: k.name })), ...(r.moreKinds && !text ? [{ value: ' ', label: `${r.moreKinds} more: type to find one`, disabled: true }] : [])]} />
  );
}
