import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { api, seg } from '../api/client';
import type { Api, ConnectionView } from '../api/types';
import { useEnvironment } from '../app/environment';
import type { Draft } from './kinds/kind';

/** Settings for what a contract's port asks of its callers. */
const asked = (what: string[]): Draft => ({
  ...(what.includes('addressing') ? { addressing: true } : {}),
  ...(what.includes('timestamp') ? { timestamp: true } : {}),
  ...(what.includes('digest') ? { token: 'digest' } : what.includes('token') ? { token: 'text' } : {}),
});

/** Test comes first, the others by name. */
const sorted = (urls: Record<string, string>): [string, string][] =>
  Object.entries(urls).sort(([a], [b]) => Number(b === 'test') - Number(a === 'test') || a.localeCompare(b));

/** A connection while it is edited, and what can be done with it. What a contract offers fills a new one. */
export function useConnectionDraft(c: ConnectionView | undefined) {
  const go = useNavigate();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const environment = useEnvironment();
  const [offered] = useSearchParams();
  const [name, setName] = useState(c?.name ?? offered.get('name') ?? '');
  const [kind, setKind] = useState<string>(c?.kind ?? 'soap');
  const [urls, setUrls] = useState(() => sorted(c?.settings.urls ?? { test: offered.get('url') ?? '', live: '' }));
  const [settings, setSettings] = useState<Draft>(c?.settings ?? asked(offered.getAll('ask')));
  const [password, setPassword] = useState<string>();
  const path = `/connections/${seg(name.trim())}`;
  const save = useMutation({
    mutationFn: () => {
      const kept = Object.fromEntries(urls.filter(([e, u]) => e && u));
      return api.put(path, { kind, settings: { ...settings, urls: kept }, password: password ?? null });
    },
    onSuccess: async () => {
      void message.success('Kept');
      await queries.invalidateQueries();
      void go(path);
    },
  });
  const probe = useMutation({
    mutationFn: () => api.post<Api<'Probe'>>(`${path}/probe?environment=${seg(environment)}`),
  });
  const trust = useMutation({
    mutationFn: (pem: string) => api.post<string[]>(`${path}/trust`, { environment, pem }),
    onSuccess: async (names) => {
      setSettings((s) => ({
        ...s,
        trust: { ...s.trust, [environment]: [...new Set([...(s.trust?.[environment] ?? []), ...names])] },
      }));
      await queries.invalidateQueries();
      // The probe goes on by itself.
      probe.mutate();
    },
  });
  const remove = useMutation({
    mutationFn: () => api.delete(path),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go('/connections');
    },
  });
  return {
    name,
    setName,
    kind,
    setKind,
    urls,
    setUrls,
    settings,
    setSettings,
    password,
    setPassword,
    save,
    probe,
    trust,
    remove,
    environment,
    wantsLogIn: offered.getAll('ask').some((a) => ['basic', 'token', 'digest'].includes(a)),
  };
}
