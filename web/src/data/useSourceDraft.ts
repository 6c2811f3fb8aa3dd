import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useState } from 'react';
import { useNavigate } from 'react-router';
import { api, seg } from '../api/client';
import type { Api, Preview, SourceView } from '../api/types';
import { useEnvironment } from '../app/environment';
import { useUndo } from '../common/useUndo';
import { sourceKind, type SourceSettings } from './kinds';

const previewKey = (
  kind: string | undefined,
  settings: SourceSettings | undefined,
  environment: string,
  numbers?: string,
) => ['preview', kind, settings, environment, numbers] as const;

/** A source while it is edited: its settings, the records they give, and what can be done with it. */
export function useSourceDraft(source: SourceView | undefined) {
  const go = useNavigate();
  const queries = useQueryClient();
  const environment = useEnvironment();
  const undo = useUndo();
  const [kind, setKind] = useState<string | undefined>(source?.kind);
  const [name, setName] = useState(source?.name ?? '');
  const [settings, setSettings] = useState<SourceSettings>(source?.settings ?? {});
  const set = useCallback((change: (s: SourceSettings) => SourceSettings) => setSettings(change), []);
  const [numbers, setNumbers] = useState<string>();
  const begin = (as: string, s: SourceSettings) => {
    const begun = sourceKind(as)?.begun?.(s) ?? { kind: as, settings: s };
    setKind(begun.kind);
    setSettings(begun.settings);
  };
  const upload = useMutation({
    mutationFn: (f: File) => api.post<Api<'StoredFile'>>(`/data/files?name=${seg(f.name)}`, f),
    onSuccess: (f) => {
      if (!f.kind || !f.settings) throw new Error(`${f.name} cannot be read: ${f.problem}.`);
      const { file, fileName } = f.settings;
      setKind(f.kind);
      // Another file of the same kind is read as the one before.
      setSettings((s) => (s.file && f.kind === kind ? { ...s, file, fileName } : (f.settings ?? {})));
      if (!name) setName(f.name.replace(/\.\w+$/, ''));
    },
  });
  const isReady = sourceKind(kind)?.isReady(settings) ?? false;
  const preview = useQuery({
    queryKey: previewKey(kind, settings, environment, numbers),
    enabled: isReady,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }) =>
      api.post<Preview>(
        `/data/preview?environment=${seg(environment)}&limit=100${numbers ? `&numbers=${numbers}` : ''}`,
        { kind, settings },
        signal,
      ),
  });
  const kept = () => sourceKind(kind)?.kept?.(settings, preview.data?.fields ?? []) ?? settings;
  const save = useMutation({
    mutationFn: () => api.put(`/data/sources/${seg(name.trim())}`, { kind, settings: kept() }),
    onSuccess: async () => {
      setSettings(kept());
      await queries.invalidateQueries();
      void go(`/data/sources/${seg(name.trim())}`);
    },
  });
  const remove = useMutation({
    mutationFn: () => api.delete(`/data/sources/${seg(name)}`),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go('/data');
      undo(`Removed ${name}.`, async () => {
        await api.put(`/data/sources/${seg(name)}`, { kind, settings: source?.settings });
        await queries.invalidateQueries();
      });
    },
  });
  const changed = !source || JSON.stringify({ ...source.settings }) !== JSON.stringify({ ...settings });
  // What the source gives as it is kept; asked anew only where that was not shown yet.
  const before = queries.getQueryData<Preview>(previewKey(source?.kind, source?.settings, environment));
  return {
    kind,
    before: before?.fields,
    begin,
    numbers,
    setNumbers,
    name,
    setName,
    settings,
    set,
    upload,
    isReady,
    preview,
    save,
    remove,
    changed,
  };
}
