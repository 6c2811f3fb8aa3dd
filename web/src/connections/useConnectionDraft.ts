import { useMutation, useQueryClient } from '@tanstack/react-query';
import { App } from 'antd';
import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { api, seg } from '../api/client';
import type { Api, ConnectionView } from '../api/types';
import { useEnvironment } from '../app/environment';
import type { SecretDesk } from './cells/cell';
import { useSecrets } from './queries';
import { changed, toKeep, type Draft, type Edited } from './settings';

/** What a log-in over HTTP that a port asks for is as a setting. */
const LOG_INS: Record<string, string> = { 'http-digest': 'digest', ntlm: 'ntlm', bearer: 'bearer' };

/** The log-in over HTTP that is asked for; what belongs to it follows behind a colon. */
function logInAsked(what: string[]): Draft {
  const of = (start: string) => what.find((w) => w.startsWith(`${start}:`))?.slice(start.length + 1);
  const plain = what.find((w) => LOG_INS[w]);
  const [tokenUrl, ...scopes] = of('oauth')?.split(' ') ?? [];
  if (tokenUrl) return { logIn: 'oauth', tokenUrl, ...(scopes.length ? { scope: scopes.join(' ') } : {}) };
  if (plain) return { logIn: LOG_INS[plain] };
  const [header, query] = [of('header-key'), of('query-key')];
  return header ? { logIn: 'key', keyName: header } : query ? { logIn: 'query', keyName: query } : {};
}

/** Settings for what a contract's port asks of its callers. */
const asked = (what: string[]): Draft => ({
  ...logInAsked(what),
  ...(what.includes('addressing') ? { addressing: true } : {}),
  ...(what.includes('mtom') ? { attachments: 'mtom' } : {}),
  ...(what.includes('timestamp') ? { timestamp: true } : {}),
  ...(what.includes('digest') ? { token: 'digest' } : what.includes('token') ? { token: 'text' } : {}),
});

const editedOf = (c: ConnectionView): Edited => ({
  common: c.settings,
  environments: Object.entries(c.environments).map(([name, settings]) => ({ name, settings })),
});

/** A probe, with the moment it was made. */
export type Probed = Api<'Probe'> & { environment: string; at: number };

/** A connection while it is edited, and what can be done with it. What a contract offers fills a new one. */
export function useConnectionDraft(c: ConnectionView | undefined) {
  const go = useNavigate();
  const queries = useQueryClient();
  const { message } = App.useApp();
  const chosen = useEnvironment();
  const [offered] = useSearchParams();
  const [name, setName] = useState(c?.name ?? offered.get('name') ?? '');
  const [kind, setKind] = useState<string>(c?.kind ?? 'soap');
  const before = (): Edited =>
    c
      ? editedOf(c)
      : {
          common: asked(offered.getAll('ask')),
          environments: [
            { name: 'test', settings: { url: offered.get('url') ?? undefined } },
            { name: 'live', settings: {} },
          ],
        };
  const [edited, setEdited] = useState<Edited>(before);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [isChanged, setChanged] = useState(false);
  const [probes, setProbes] = useState<Probed[]>([]);
  const path = `/connections/${seg(name.trim())}`;
  const edit = (change: (e: Edited) => Edited) => {
    setEdited(change);
    setChanged(true);
  };
  const save = useMutation({
    mutationFn: () => api.put(path, { kind, ...toKeep(edited), secrets: typed }),
    onSuccess: async () => {
      void message.success('Kept');
      setTyped({});
      setChanged(false);
      await queries.invalidateQueries();
      void go(path);
    },
  });
  const probe = useMutation({
    mutationFn: async (environment: string): Promise<Probed> => ({
      ...(await api.post<Api<'Probe'>>(`${path}/probe?environment=${seg(environment)}`)),
      environment,
      at: Date.now(),
    }),
    onSuccess: (p) => setProbes((all) => [p, ...all.filter((x) => x.environment !== p.environment)]),
  });
  const trust = useMutation({
    mutationFn: async (given: { environment: string; pem: string }) => ({
      names: await api.post<string[]>(`${path}/trust`, given),
      environment: given.environment,
    }),
    onSuccess: async ({ names, environment }) => {
      setEdited((e) => {
        const at = e.environments.findIndex((x) => x.name === environment);
        const now = e.environments[at]?.settings.trust ?? e.common.trust ?? [];
        return changed(e, at, { trust: [...new Set([...now, ...names])] });
      });
      await queries.invalidateQueries();
      // The probe goes on by itself.
      probe.mutate(environment);
    },
  });
  const remove = useMutation({
    mutationFn: () => api.delete(path),
    onSuccess: async () => {
      await queries.invalidateQueries();
      void go('/connections');
    },
  });
  const secrets: SecretDesk = {
    known: (useSecrets().data?.secrets ?? []).map((s) => s.name),
    typed,
    type: (secret, value) => {
      setTyped((t) => Object.fromEntries(Object.entries({ ...t, [secret]: value ?? '' }).filter(([, v]) => v)));
      setChanged(true);
    },
    suggested: (what, of) => [name.trim() || 'secret', what, of.slice(1)].filter(Boolean).join('-'),
  };
  return {
    name,
    setName,
    kind,
    setKind,
    edited,
    edit,
    undo: () => {
      setEdited(before());
      setTyped({});
      setChanged(false);
      save.reset();
    },
    isChanged,
    secrets,
    save,
    probe,
    probes,
    trust,
    remove,
    /** The one that is chosen for all pages, where the connection has it. */
    environment: edited.environments.some((x) => x.name === chosen) ? chosen : (edited.environments[0]?.name ?? chosen),
    wantsLogIn: offered
      .getAll('ask')
      .some((a) => /^(basic|token|digest|ntlm|bearer|http-digest|oauth:|header-key:|query-key:)/.test(a)),
  };
}

export type ConnectionDraft = ReturnType<typeof useConnectionDraft>;
