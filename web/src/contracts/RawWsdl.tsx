import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { api, seg } from '../api/client';
import type { ContractView } from '../api/types';

export function RawWsdl({
  contract,
  line,
  document,
}: {
  contract: ContractView;
  line: number;
  document: string | null;
}) {
  const [chosen, setChosen] = useState<string | null>(null);
  const uri = chosen ?? document ?? contract.documents[0];
  const raw = useQuery({
    queryKey: ['raw', contract.name, contract.version, uri],
    queryFn: () =>
      api.get<{ uri: string; text: string }>(
        `/contracts/${seg(contract.name)}/raw?version=${contract.version}&document=${seg(uri)}`,
      ),
  });
  const lines = raw.data?.text.split('\n') ?? [];
  const scroller = useRef<HTMLDivElement>(null);
  const rows = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 18,
    overscan: 30,
  });
  useEffect(() => {
    if (line && lines.length) rows.scrollToIndex(line - 1, { align: 'center' });
  }, [line, lines.length]); // eslint-disable-line
  return (
    <div style={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', minHeight: 0 }}>
      <div className="row small" style={{ padding: '7px 18px' }}>
        {contract.documents.length > 1 ? (
          <Select
            size="small"
            style={{ minWidth: 340 }}
            value={uri}
            onChange={setChosen}
            options={contract.documents.map((d) => ({ value: d, label: d }))}
          />
        ) : (
          <span className="soft">{uri}</span>
        )}
        <span className="faint push num">{lines.length} lines</span>
      </div>
      <div ref={scroller} className="scroll" style={{ borderTop: '1px solid var(--line)' }}>
        <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
          {rows.getVirtualItems().map((r) => (
            <div
              key={r.key}
              className="mono"
              style={{
                position: 'absolute',
                top: r.start,
                left: 0,
                right: 0,
                height: 18,
                whiteSpace: 'pre',
                paddingLeft: 12,
                background: r.index + 1 === line ? 'var(--copper-soft)' : undefined,
              }}
            >
              <span
                className="faint"
                style={{ display: 'inline-block', width: 44, textAlign: 'right', marginRight: 14, userSelect: 'none' }}
              >
                {r.index + 1}
              </span>
              {lines[r.index]}
            </div>
          ))}
        </div>
      </div>
    </div>
  );
}
