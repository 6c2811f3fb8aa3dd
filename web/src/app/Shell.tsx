import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Dropdown, Select } from 'antd';
import { lazy, Suspense, useEffect, useRef } from 'react';
import { Navigate, NavLink, Route, Routes, useNavigate } from 'react-router';
import { api, isAway, type ApiProblem } from '../api/client';
import type { Api, Overview } from '../api/types';
import { Fence } from '../common/ui';
import { setMode, useMode } from '../theme/theme';
import { setEnvironment, useEnvironment } from './environment';
import { GoTo } from './GoTo';
import { LogIn } from './LogIn';
import { Mark } from './Mark';
import css from './Shell.module.css';

const ContractList = lazy(() => import('../contracts').then((m) => ({ default: m.ContractList })));
const ContractPage = lazy(() => import('../contracts').then((m) => ({ default: m.ContractPage })));
const ImportContract = lazy(() => import('../contracts').then((m) => ({ default: m.ImportContract })));
const ConnectionsPage = lazy(() => import('../connections').then((m) => ({ default: m.ConnectionsPage })));
const DataPage = lazy(() => import('../data').then((m) => ({ default: m.DataPage })));
const FlowList = lazy(() => import('../flows').then((m) => ({ default: m.FlowList })));
const MakeFlowPage = lazy(() => import('../flows').then((m) => ({ default: m.MakeFlowPage })));
const FlowPage = lazy(() => import('../flows').then((m) => ({ default: m.FlowPage })));
const RunList = lazy(() => import('../runs').then((m) => ({ default: m.RunList })));
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
              <Route path="/contracts/:name" element={<ContractPage />} />
              <Route path="/contracts/:name/:port/:operation" element={<ContractPage />} />
              <Route path="/connections" element={<ConnectionsPage />} />
              <Route path="/connections/:name" element={<ConnectionsPage />} />
              <Route path="/data" element={<DataPage />} />
              <Route path="/data/:kind/:name" element={<DataPage />} />
              <Route path="/flows" element={<FlowList />} />
              <Route path="/flows/new" element={<MakeFlowPage />} />
              <Route path="/flows/:id" element={<FlowPage />} />
              <Route path="/runs" element={<RunList />} />
              <Route path="/runs/:id" element={<RunPage />} />
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

/** Nothing is known yet, and the server is away: the page waits and goes on by itself. */
const Away = ({ error }: { error: unknown }) => (
  <div className="empty" role="alert">
    <h1>Wire Kettle cannot be reached</h1>
    {(error as Error | null)?.message} This page goes on by itself.
  </div>
);

function Top({ name, role }: { name: string; role: string }) {
  const queries = useQueryClient();
  const mode = useMode();
  const go = useNavigate();
  const environment = useEnvironment();
  const overview = useQuery({
    queryKey: ['overview'],
    queryFn: () => api.get<Overview>('/overview'),
    retry: false,
    refetchInterval: (q) => (q.state.status === 'error' ? 2_000 : 15_000),
  });
  const o = overview.data;
  const away = overview.isError && isAway(overview.error);
  // What could not be had while the server was away is asked for again once it is back.
  const wasAway = useRef(false);
  useEffect(() => {
    if (wasAway.current && !away && overview.isSuccess) void queries.invalidateQueries();
    wasAway.current = away;
  }, [away, overview.isSuccess, queries]);
  const logOut = async () => {
    await api.delete('/session');
    queries.setQueryData(['session'], null);
    queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' });
  };
  return (
    <div>
      {away && (
        <div className="banner" role="alert">
          {overview.error.message} Shown is what was known last.
        </div>
      )}
      <header className="top">
        <NavLink className="mark" to="/">
          <Mark />
          Wire Kettle
        </NavLink>
        <nav aria-label="main">
          <NavLink className={({ isActive }) => (isActive ? 'on' : '')} to="/contracts">
            Contracts <small className="num">{o?.contracts}</small>
          </NavLink>
          <NavLink className={({ isActive }) => (isActive ? 'on' : '')} to="/connections">
            Connections <small className="num">{o?.connections}</small>
          </NavLink>
          <NavLink className={({ isActive }) => (isActive ? 'on' : '')} to="/data">
            Data <small className="num">{o?.data}</small>
          </NavLink>
          <NavLink className={({ isActive }) => (isActive ? 'on' : '')} to="/flows">
            Flows <small className="num">{o?.flows}</small>
          </NavLink>
          <NavLink className={({ isActive }) => (isActive ? 'on' : '')} to="/runs">
            Runs {o?.running ? <small className="st busy">{o.running} running</small> : null}
          </NavLink>
        </nav>
        <GoTo />
        <Select
          size="small"
          aria-label="environment"
          value={environment}
          onChange={setEnvironment}
          options={(o?.environments ?? [environment]).map((e) => ({ value: e, label: e }))}
          className={css.environment}
          title="Tries and runs go to this environment"
        />
        <Dropdown
          trigger={['click']}
          menu={{
            items: [
              {
                key: 'role',
                label: (
                  <span className="soft">
                    {name}, {role}
                  </span>
                ),
                disabled: true,
              },
              {
                key: 'mode',
                label: mode === 'dark' ? 'Light paper' : 'Dark paper',
                onClick: () => setMode(mode === 'dark' ? 'light' : 'dark'),
              },
              { key: 'settings', label: 'Settings', onClick: () => void go('/settings') },
              { key: 'out', label: 'Log out', onClick: () => void logOut() },
            ],
          }}
        >
          <button className="link soft">{name}</button>
        </Dropdown>
      </header>
    </div>
  );
}
