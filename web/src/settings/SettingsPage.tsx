import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useNavigate, useParams } from 'react-router';
import { api } from '../api/client';
import type { Api } from '../api/types';
import { Tabs } from '../common/ui';
import { Accounts } from './Accounts';
import { AllowedHosts } from './AllowedHosts';
import { AuditLog } from './AuditLog';
import { MyAccount } from './MyAccount';
import { Retention } from './Retention';

type Part = 'me' | 'accounts' | 'hosts' | 'retention' | 'audit';
const PARTS: { id: Part; label: string; admin: boolean }[] = [
  { id: 'me', label: 'My account', admin: false },
  { id: 'accounts', label: 'Accounts', admin: true },
  { id: 'hosts', label: 'Allowed hosts', admin: true },
  { id: 'retention', label: 'Retention', admin: true },
  { id: 'audit', label: 'Audit log', admin: true },
];

/** One's own account; for administrators also everybody's, how long things are kept, and who did what. */
export function SettingsPage() {
  const go = useNavigate();
  const part = (useParams().part ?? 'me') as Part;
  const session = useQuery({ queryKey: ['session'], queryFn: () => api.get<Api<'Session'>>('/session') });
  const isAdmin = session.data?.role === 'admin';
  useEffect(() => {
    document.title = 'Settings';
  }, []);
  const shown = PARTS.filter((p) => isAdmin || !p.admin);
  const at = shown.some((p) => p.id === part) ? part : 'me';
  return (
    <div className="settings">
      <div className="settings-head">
        <h1>Settings</h1>
      </div>
      <Tabs<Part> value={at} onChange={(p) => void go(`/settings/${p}`)} items={shown} />
      <div className="scroll settings-body">
        {at === 'me' && <MyAccount />}
        {at === 'accounts' && <Accounts me={session.data?.name ?? ''} />}
        {at === 'hosts' && <AllowedHosts />}
        {at === 'retention' && <Retention />}
        {at === 'audit' && <AuditLog />}
      </div>
    </div>
  );
}
