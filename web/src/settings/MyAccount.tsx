import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Input } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import type { Api } from '../api/types';
import { when } from '../common/format';
import { ErrorText } from '../common/ui';

/** What a browser says it is, shortened to what people call it. */
export function browserName(agent: string): string {
  const known = /(Firefox|Edg|Chromium|HeadlessChrome|Chrome|Safari|curl)\/?([\d]+)?/.exec(agent);
  return known
    ? `${known[1].replace('Edg', 'Edge')}${known[2] ? ` ${known[2]}` : ''}`
    : agent.slice(0, 40) || 'unknown';
}

export function MyAccount() {
  const queries = useQueryClient();
  const { message } = App.useApp();
  const [old, setOld] = useState('');
  const [next, setNext] = useState('');
  const sessions = useQuery({ queryKey: ['sessions'], queryFn: () => api.get<Api<'OwnSession'>[]>('/session/all') });
  const end = useMutation({
    mutationFn: (id: number) => api.delete(`/session/all/${id}`),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['sessions'] }),
  });
  const change = useMutation({
    mutationFn: () => api.put('/session/password', { password: old, newPassword: next }),
    onSuccess: () => {
      setOld('');
      setNext('');
      void message.success('Changed; all other sessions have ended');
      void queries.invalidateQueries({ queryKey: ['sessions'] });
    },
  });
  return (
    <>
      <h2>Where you are logged in</h2>
      {sessions.isError && <ErrorText error={sessions.error} />}
      {end.isError && <ErrorText error={end.error} />}
      <table className="grid settings-table">
        <thead>
          <tr>
            <th>browser</th>
            <th>address</th>
            <th>since</th>
            <th>last seen</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {sessions.data?.map((s) => (
            <tr key={s.id}>
              <td title={s.browser}>
                {browserName(s.browser)}
                {s.isThis && <span className="soft"> · this one</span>}
              </td>
              <td className="mono">{s.address}</td>
              <td className="num">{when(s.since)}</td>
              <td className="num">{when(s.seen)}</td>
              <td className="right">
                {!s.isThis && (
                  <Button size="small" type="text" onClick={() => end.mutate(s.id)}>
                    Log out there
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2 className="settings-gap">Change your password</h2>
      <form
        className="settings-form"
        onSubmit={(e) => {
          e.preventDefault();
          change.mutate();
        }}
      >
        <label className="field-label" htmlFor="old">
          Present password
        </label>
        <Input.Password id="old" autoComplete="current-password" value={old} onChange={(e) => setOld(e.target.value)} />
        <label className="field-label" htmlFor="next">
          New password, at least 10 characters
        </label>
        <Input.Password id="next" autoComplete="new-password" value={next} onChange={(e) => setNext(e.target.value)} />
        {change.isError && <ErrorText error={change.error} />}
        <Button type="primary" htmlType="submit" disabled={!old || next.length < 10} loading={change.isPending}>
          Change it
        </Button>
      </form>
    </>
  );
}
