import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Dropdown, Select } from 'antd';
import { useEffect, useRef } from 'react';
import { NavLink, useLocation, useNavigate } from 'react-router';
import { api, isAway } from '../api/client';
import type { Overview } from '../api/types';
import { setMode, useMode } from '../theme/theme';
import { isLive, setEnvironment, useEnvironment } from './environment';
import { GoTo } from './GoTo';
import { Mark } from './Mark';
import css from './Top.module.css';

export function Top({ name, role }: { name: string; role: string }) {
  // What connections share has pages of its own.
  const isShared = /^\/(certificates|secrets)/.test(useLocation().pathname);
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
          <NavLink className={({ isActive }) => (isActive || isShared ? 'on' : '')} to="/connections">
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
          <NavLink className={({ isActive }) => (isActive ? 'on' : '')} to="/published">
            Published
          </NavLink>
        </nav>
        <GoTo />
        <Select
          size="small"
          aria-label="environment"
          value={environment}
          onChange={setEnvironment}
          options={(o?.environments ?? [environment]).map((e) => ({ value: e, label: e }))}
          className={`${css.environment} ${isLive(environment) ? css.live : ''}`}
          title={
            isLive(environment)
              ? 'Live: what is tried or run from here is in earnest'
              : 'Tries and runs go to this environment'
          }
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
      {isLive(environment) && <div className={css.band} role="status" aria-label={`${environment}: in earnest`} />}
    </div>
  );
}
