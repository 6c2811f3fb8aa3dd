import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { api } from '../api/client';
import { count, plural, when } from '../common/format';
import { ErrorText } from '../common/ui';
import { filePath } from '../common/files';
import { fileKeys, useFiles } from './queries';
import css from './FilesPage.module.css';

/** The folder of files: what messages take, and what came with answers. */
export function FilesPage() {
  const list = useFiles();
  const queries = useQueryClient();
  const [wanted, setWanted] = useState('');
  const picker = useRef<HTMLInputElement>(null);
  const onSuccess = () => queries.invalidateQueries({ queryKey: fileKeys.list });
  const put = useMutation({ mutationFn: (f: File) => api.put(filePath(f.name), f), onSuccess });
  const remove = useMutation({ mutationFn: (name: string) => api.delete(filePath(name)), onSuccess });
  useEffect(() => {
    document.title = 'Files';
  }, []);
  const files = list.data?.files ?? [];
  const shown = files.filter((f) => f.name.toLowerCase().includes(wanted.trim().toLowerCase()));
  return (
    <div className="page">
      <div className="row">
        <h1>Files</h1>
        <Button className="push" loading={put.isPending} onClick={() => picker.current?.click()}>
          Add a file
        </Button>
        <input
          ref={picker}
          type="file"
          hidden
          aria-label="file to add"
          onChange={(e) => {
            const f = e.target.files?.[0];
            if (f) put.mutate(f);
            e.target.value = '';
          }}
        />
      </div>
      <p className="soft">
        What messages take with them: a fill names a file as <span className="mono">file:</span> and an expression, and
        its content is read while it is sent. Under <span className="mono">received/</span> is what came with answers.
        Files larger than 256 MB are put into the server’s folder <span className="mono">files</span> directly.
      </p>
      {list.isError && <ErrorText error={list.error} />}
      {(put.isError || remove.isError) && <ErrorText error={put.error ?? remove.error} />}
      {files.length > 8 && (
        <Input
          size="small"
          className={css.find}
          aria-label="find a file"
          placeholder="find a file"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
      )}
      {shown.length > 0 && (
        <table className={`grid ${css.table}`}>
          <thead>
            <tr>
              <th>Name</th>
              <th className="num">Bytes</th>
              <th>Changed</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {shown.map((f) => (
              <tr key={f.name}>
                <td className={`mono ${css.name}`}>
                  <a href={`/api${filePath(f.name)}`} download title="Take the file">
                    {f.name}
                  </a>
                </td>
                <td className="num">{count(f.bytes)}</td>
                <td className="soft">{when(f.changedAt)}</td>
                <td>
                  <Button size="small" type="text" onClick={() => remove.mutate(f.name)}>
                    Remove
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {list.isSuccess && files.length === 0 && <p className="soft">There are no files yet.</p>}
      {!!list.data?.more && <p className="soft">{plural(list.data.more, 'older file')} are not listed.</p>}
    </div>
  );
}
