import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense, useEffect } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { api, type ApiProblem } from '../api/client';
import type { Api } from '../api/types';
import { Fence } from '../common/ui';
import { LogIn } from './LogIn';
import { Top } from './Top';

const ContractList = lazy(() => import('../contracts').then((m) => ({ default: m.ContractList })));
const ContractPage = lazy(() => import('../contracts').then((m) => ({ default: m.ContractPage })));
const HandMadePage = lazy(() => import('../contracts').then((m) => ({ default: m.HandMadePage })));
const ImportContract = lazy(() => import('../contracts').then((m) => ({ default: m.ImportContract })));
const CertificatesPage = lazy(() => import('../connections').then((m) => ({ default: m.CertificatesPage })));
const SecretsPage = lazy(() => import('../connections').then((m) => ({ default: m.SecretsPage })));
const ConnectionsPage = lazy(() => import('../connections').then((m) => ({ default: m.ConnectionsPage })));
const DataPage = lazy(() => import('../data').then((m) => ({ default: m.DataPage })));
const FilesPage = lazy(() => import('../files').then((m) => ({ default: m.FilesPage })));
const FlowList = lazy(() => import('../flows').then((m) => ({ default: m.FlowList })));
const MakeFlowPage = lazy(() => import('../flows').then((m) => ({ default: m.MakeFlowPage })));
const FlowPage = lazy(() => import('../flows').then((m) => ({ default: m.FlowPage })));
const RunList = lazy(() => import('../runs').then((m) => ({ default: m.RunList })));
const PublishedPage = lazy(() => import('../published').then((m) => ({ default: m.PublishedPage })));
const SettingsPage = lazy(() => import('../settings').then((m) => ({ default: m.SettingsPage })));
const RunPage = lazy(() => import('../runs').then((m) => ({ default: m.RunPage })));

export function Shell() {
  // Only the server's own word that nobody is logged in counts: a server that is away logs nobody out.
  const session = useQuery({
    queryKey: ['session'],
    staleTime: 60_000,
    retry: false,
    queryFn: () =>
      api.get<Api<'Session'>>('/session').catch((e: unknown) => {
        if ((e as ApiProblem).status === 401) return null;
        throw e;
      }),
    refetchInterval: (q) => (q.state.status === 'error' ? 2_000 : false),
  });
  if (session.isPending) return null;
  if (session.data === undefined) return <Away error={session.error} />;
  if (session.data === null) return <LogIn />;
  // Guests have pages of their own, and nothing here.
  if (session.data.role === 'guest') return <Leave />;
  return (
    <div className="shell">
      <Top name={session.data.name} role={session.data.role} />
      <main>
        <Fence>
          <Suspense fallback={null}>
            <Routes>
              <Route path="/" element={<Navigate to="/contracts" replace />} />
              <Route path="/contracts" element={<ContractList />} />
              <Route path="/contracts/import" element={<ImportContract />} />
              <Route path="/contracts/by-hand" element={<HandMadePage />} />
              <Route path="/contracts/:name/by-hand" element={<HandMadePage />} />
              <Route path="/contracts/:name" element={<ContractPage />} />
              <Route path="/contracts/:name/:port/:operation" element={<ContractPage />} />
              <Route path="/certificates" element={<CertificatesPage />} />
              <Route path="/secrets" element={<SecretsPage />} />
              <Route path="/connections" element={<ConnectionsPage />} />
              <Route path="/connections/:name" element={<ConnectionsPage />} />
              <Route path="/data" element={<DataPage />} />
              <Route path="/data/files" element={<FilesPage />} />
              <Route path="/data/:kind/:name" element={<DataPage />} />
              <Route path="/flows" element={<FlowList />} />
              <Route path="/flows/new" element={<MakeFlowPage />} />
              <Route path="/flows/:id" element={<FlowPage />} />
              <Route path="/runs" element={<RunList />} />
              <Route path="/runs/:id" element={<RunPage />} />
              <Route path="/published" element={<PublishedPage />} />
              <Route path="/published/:name" element={<PublishedPage />} />
              <Route path="/settings" element={<SettingsPage />} />
              <Route path="/settings/:part" element={<SettingsPage />} />
              <Route
                path="*"
                element={
                  <div className="empty">
                    <h1>There is nothing at this address.</h1>The navigation above leads on.
                  </div>
                }
              />
            </Routes>
          </Suspense>
        </Fence>
      </main>
    </div>
  );
}

/** To the run pages. */
function Leave() {
  useEffect(() => location.replace('/pages/'), []);
  return null;
}

/** Nothing is known yet, and the server is away: the page waits and goes on by itself. */
const Away = ({ error }: { error: unknown }) => (
  <div className="empty" role="alert">
    <h1>Wire Kettle cannot be reached</h1>
    {(error as Error | null)?.message} This page goes on by itself.
  </div>
);
