import { useMutation } from '@tanstack/react-query';
import { Input } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { ErrorText, Status } from '../common/ui';
import { moodOf } from './trail';
import css from './FindRecord.module.css';

export function FindRecord({ run, onFound }: { run: number; onFound: (n: number) => void }) {
  const [text, setText] = useState('');
  const find = useMutation({
    mutationFn: (t: string) => api.get<Api<'Found'>[]>(`/runs/${run}/find?text=${seg(t)}`),
    onSuccess: (f) => {
      if (f.length === 1) onFound(f[0].number);
    },
  });
  return (
    <div className={`push ${css.box2}`}>
      <Input.Search
        size="small"
        aria-label="find a record"
        allowClear
        placeholder="find a record by any value"
        className={css.findARecord}
        value={text}
        loading={find.isPending}
        onChange={(e) => {
          setText(e.target.value);
          find.reset();
        }}
        onSearch={(t) => t.trim() && find.mutate(t.trim())}
      />
      {(find.isError || (find.data && find.data.length !== 1)) && (
        <div className={`panel small ${css.box3}`}>
          {find.isError ? (
            <ErrorText error={find.error} />
          ) : find.data.length === 0 ? (
            <div className={`soft ${css.inset3}`}>No record has it, in its fields or messages.</div>
          ) : (
            find.data.map((f) => (
              <button
                key={f.number}
                className={`item ${css.action}`}
                onClick={() => {
                  onFound(f.number);
                  find.reset();
                }}
              >
                <span className="cut">
                  <span className="num soft">{f.number}</span> {f.sample}
                </span>
                <Status mood={moodOf(f.fate)}>{f.fate}</Status>
              </button>
            ))
          )}
        </div>
      )}
    </div>
  );
}
