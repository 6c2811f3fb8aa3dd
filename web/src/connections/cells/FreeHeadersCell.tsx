import { Input } from 'antd';
import { useRef } from 'react';
import type { CellProps } from './cell';
import css from './cells.module.css';

/** Header blocks that no contract declares: pasted as XML, or taken from a file. */
export function FreeHeadersCell({ settings, set, of }: CellProps) {
  const picker = useRef<HTMLInputElement>(null);
  const take = (text: string) => set({ freeHeaders: text || undefined });
  return (
    <span className={css.full}>
      <Input.TextArea
        size="small"
        autoSize={{ minRows: 1, maxRows: 8 }}
        className="mono"
        aria-label={`free headers${of.replace('-', ' for ')}`}
        placeholder={'<t:Trace xmlns:t="urn:trace">1</t:Trace>'}
        value={settings.freeHeaders ?? ''}
        onChange={(e) => take(e.target.value)}
      />
      <button className="link soft small" onClick={() => picker.current?.click()}>
        from a file
      </button>
      <input
        ref={picker}
        type="file"
        hidden
        aria-label={`file with headers${of.replace('-', ' for ')}`}
        accept=".xml,.txt"
        onChange={(e) => {
          void e.target.files?.[0]?.text().then(take);
          e.target.value = '';
        }}
      />
    </span>
  );
}
