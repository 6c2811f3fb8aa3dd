import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { App, Button, Input, Select } from 'antd';
import { useState } from 'react';
import { api, seg } from '../api/client';
import type { Api } from '../api/types';
import { ErrorText } from '../common/ui';

const ROLES = [
  { value: 'guest', label: 'guest: uses run pages, and sees nothing else' },
  { value: 'viewer', label: 'viewer: sees everything but secrets' },
  { value: 'operator', label: 'operator: starts, stops and mends runs' },
  { value: 'builder', label: 'builder: changes contracts, connections, data and flows' },
  { value: 'admin', label: 'admin: manages accounts and settings' },
];

export function Accounts({ me }: { me: string }) {
  const queries = useQueryClient();
  const { message, modal } = App.useApp();
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const [role, setRole] = useState('viewer');
  const accounts = useQuery({ queryKey: ['accounts'], queryFn: () => api.get<Api<'Session'>[]>('/accounts') });
  const refresh = () => queries.invalidateQueries({ queryKey: ['accounts'] });
  const put = useMutation({
    mutationFn: (a: { name: string; role: string; password?: string }) =>
      api.put(`/accounts/${seg(a.name)}`, { role: a.role, password: a.password ?? null }),
    onSuccess: (_, a) => {
      void refresh();
      setPassword('');
      if (!a.password) return;
      setName('');
      void message.success(`${a.name}: password set; sessions it had have ended`);
    },
  });
  const remove = useMutation({ mutationFn: (n: string) => api.delete(`/accounts/${seg(n)}`), onSuccess: refresh });
  // An account's sessions and password cannot be brought back, so this one asks.
  const ask = (n: string) =>
    modal.confirm({
      title: `Remove the account ${n}?`,
      content: 'It is logged out everywhere. What it did stays in the audit log.',
      okText: 'Remove',
      okButtonProps: { danger: true },
      onOk: () => remove.mutateAsync(n).catch(() => undefined),
    });
  const known = accounts.data?.some((a) => a.name === name.trim());
  return (
    <>
      {accounts.isError && <ErrorText error={accounts.error} />}
      {remove.isError && <ErrorText error={remove.error} />}
      <table className="grid settings-table">
        <thead>
          <tr>
            <th>name</th>
            <th>may</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {accounts.data?.map((a) => (
            <tr key={a.name}>
              <td>
                {a.name}
                {a.name === me && <span className="soft"> · you</span>}
              </td>
              <td>
                <Select
                  size="small"
                  variant="borderless"
                  className="settings-role"
                  aria-label={`role of ${a.name}`}
                  value={a.role}
                  onChange={(r) => put.mutate({ name: a.name, role: r })}
                  options={ROLES}
                />
              </td>
              <td className="right nowrap">
                <Button size="small" type="text" onClick={() => setName(a.name)}>
                  New password
                </Button>
                {a.name !== me && (
                  <Button size="small" type="text" onClick={() => ask(a.name)}>
                    Remove
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <h2 className="settings-gap">{known ? `New password for ${name.trim()}` : 'New account'}</h2>
      <form
        className="settings-form"
        onSubmit={(e) => {
          e.preventDefault();
          put.mutate({
            name: name.trim(),
            password,
            role: accounts.data?.find((a) => a.name === name.trim())?.role ?? role,
          });
        }}
      >
        <label className="field-label" htmlFor="account">
          Name
        </label>
        <Input id="account" autoComplete="off" value={name} onChange={(e) => setName(e.target.value)} />
        {!known && (
          <>
            <label className="field-label" htmlFor="role">
              May
            </label>
            <Select id="role" className="settings-wide" value={role} onChange={setRole} options={ROLES} />
          </>
        )}
        <label className="field-label" htmlFor="account-password">
          Password, at least 10 characters
        </label>
        <Input.Password
          id="account-password"
          autoComplete="new-password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        {put.isError && <ErrorText error={put.error} />}
        <Button
          type="primary"
          htmlType="submit"
          disabled={!name.trim() || password.length < 10}
          loading={put.isPending}
        >
          {known ? 'Set it' : 'Make the account'}
        </Button>
      </form>
    </>
  );
}
