import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import { Problem } from '../common/ui';
import { Mark } from './Mark';

export function LogIn() {
  const queries = useQueryClient();
  const [name, setName] = useState('');
  const [password, setPassword] = useState('');
  const logIn = useMutation({
    mutationFn: () => api.post('/session', { name, password }),
    onSuccess: (s) => {
      queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' });
      queries.setQueryData(['session'], s);
    },
  });
  return (
    <div style={{ display: 'grid', placeItems: 'center', height: '100%' }}>
      <form
        className="panel"
        style={{ padding: '26px 30px', width: 340 }}
        onSubmit={(e) => {
          e.preventDefault();
          logIn.mutate();
        }}
      >
        <div className="mark" style={{ fontSize: 16 }}>
          <Mark />
          Wire Kettle
        </div>
        <label className="field-label" htmlFor="name">
          Name
        </label>
        <Input id="name" autoFocus autoComplete="username" value={name} onChange={(e) => setName(e.target.value)} />
        <label className="field-label" htmlFor="password">
          Password
        </label>
        <Input.Password
          id="password"
          autoComplete="current-password"
          value={password}
          onChange={(e) => setPassword(e.target.value)}
        />
        <div style={{ margin: '16px 0 0' }}>
          {logIn.isError ? (
            <div style={{ marginBottom: 12 }}>
              <Problem error={logIn.error} />
            </div>
          ) : null}
          <Button type="primary" htmlType="submit" block loading={logIn.isPending}>
            Log in
          </Button>
        </div>
        <p className="soft small" style={{ margin: '12px 0 0' }}>
          The first start prints the administrator’s password, and the demo’s log-in.
        </p>
      </form>
    </div>
  );
}
