import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Select } from 'antd';
import { useRef } from 'react';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { ErrorText } from '../common/ui';
import { dataKeys, useSources } from './queries';
import { ACCEPTED } from './accepted';
import css from './SourcePicker.module.css';

interface Props {
  value?: string;
  choose: (name: string) => void;
}

/** A source that is there, or one made on the spot from a file. */
export function SourcePicker({ value, choose }: Props) {
  const queries = useQueryClient();
  const sources = useSources();
  const chooser = useRef<HTMLInputElement>(null);
  const upload = useMutation({
    mutationFn: async (file: File) => {
      const f = await api.post<Api<'StoredFile'>>(`/data/files?name=${seg(file.name)}`, file);
      const taken = new Map(sources.data?.map((s) => [s.name, s.settings.file]));
      let name = file.name.replace(/\.\w+$/, '').replace(/[/\\?#%]/g, '-') || 'source';
      // Another file of that name is another source; the same file is the one that is there.
      for (let n = 2; taken.has(name) && taken.get(name) !== f.id; n++) name = `${name.replace(/-\d+$/, '')}-${n}`;
      if (!f.kind) throw new Error(`${f.name} cannot be read: ${f.problem}.`);
      await api.put(`/data/sources/${seg(name)}`, { kind: f.kind, settings: f.settings });
      return name;
    },
    onSuccess: async (name) => {
      await queries.invalidateQueries({ queryKey: dataKeys.sources });
      choose(name);
    },
  });
  return (
    <>
      <div className="row">
        <Select
          aria-label="source"
          className={css.source}
          placeholder={sources.data?.length ? 'choose a source' : 'there is none yet'}
          value={value}
          onChange={choose}
          options={sources.data?.map((s) => ({ value: s.name, label: s.name }))}
        />
        <Button loading={upload.isPending} onClick={() => chooser.current?.click()}>
          From a file
        </Button>
        <input
          ref={chooser}
          hidden
          type="file"
          aria-label="data file"
          accept={ACCEPTED}
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) upload.mutate(file);
          }}
        />
      </div>
      {upload.isError && <ErrorText error={upload.error} />}
    </>
  );
}
