import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Popover, Select, Upload } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api, RunView } from '../api/types';
import { plural } from '../common/format';
import { ErrorText } from '../common/ui';
import { runKeys } from './queries';
import type { TrayState } from './useTray';
import css from './MendAll.module.css';

type Mended = Api<'Mended'>;

const said = (m: Mended) =>
  plural(m.mended, 'record') +
  ' mended' +
  (m.notWaiting ? `, ${plural(m.notWaiting, 'line')} of records that do not wait` : '') +
  '.';

/** Mends all records that wait for the chosen reason: by replacing a value, or by a file that was edited elsewhere. */
export function MendAll({ run, step, tray: t }: { run: RunView; step?: string; tray: TrayState }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [field, setField] = useState<string>();
  const [find, setFind] = useState('');
  const [put, setPut] = useState('');
  const onSuccess = () => void queries.invalidateQueries({ queryKey: runKeys.trays(run.id) });
  const at = field ?? t.fields[0];
  const replace = useMutation({
    mutationFn: () =>
      api.post<Mended>(`/runs/${run.id}/aside/replace`, { code: t.code, step, field: at, find, with: put }),
    onSuccess,
  });
  const load = useMutation({
    mutationFn: (file: File) => api.post<Mended>(`/runs/${run.id}/aside/csv`, file),
    onSuccess,
  });
  const only = [t.code && `code=${seg(t.code)}`, step && `step=${seg(step)}`].filter(Boolean).join('&');
  const done = load.data ?? replace.data;
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      placement="bottomRight"
      content={
        <form
          className={css.box}
          onSubmit={(e) => {
            e.preventDefault();
            load.reset();
            replace.mutate();
          }}
        >
          <div className="field-label">In all that wait{t.code ? ` for: ${t.code}` : ''}, replace</div>
          <div className="row">
            <Select
              size="small"
              showSearch
              aria-label="field"
              className={css.field}
              value={at}
              onChange={setField}
              options={t.fields.map((f) => ({ value: f, label: f }))}
            />
            <Input
              size="small"
              aria-label="find"
              placeholder="no value"
              value={find}
              onChange={(e) => setFind(e.target.value)}
            />
            <span className="soft">→</span>
            <Input
              size="small"
              aria-label="with"
              placeholder="no value"
              value={put}
              onChange={(e) => setPut(e.target.value)}
            />
            <Button size="small" htmlType="submit" loading={replace.isPending} disabled={!at || find === put}>
              Replace
            </Button>
          </div>
          <div className={`row ${css.file}`}>
            <a href={`/api/runs/${run.id}/aside/csv${only && `?${only}`}`} download={`run-${run.id}-waiting.csv`}>
              Save them as CSV
            </a>
            <Upload
              accept=".csv,text/csv"
              showUploadList={false}
              beforeUpload={(file) => {
                replace.reset();
                load.mutate(file);
                return false;
              }}
            >
              <Button size="small" loading={load.isPending}>
                Take back a CSV
              </Button>
            </Upload>
          </div>
          <div className="soft small">
            The column <i>record number</i> says which record a line is of. What was read stays known.
          </div>
          {done && <div role="status">{said(done)}</div>}
          {replace.isError && <ErrorText error={replace.error} />}
          {load.isError && <ErrorText error={load.error} />}
        </form>
      }
    >
      <Button size="small" disabled={t.records.length === 0}>
        Mend all …
      </Button>
    </Popover>
  );
}
