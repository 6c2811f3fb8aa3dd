import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { api } from '../api/client';
import { ErrorText } from '../common/ui';
import { Mark } from './Mark';
import css from './LogIn.module.css';

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
    <div className={css.box}>
      <form
        className={`panel ${css.box2}`}
        onSubmit={(e) => {
          e.preventDefault();
          logIn.mutate();
        }}
      >
        <div className={`mark ${css.box3}`}>
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
        <div className={css.gap}>
          {logIn.isError ? (
            <div className={css.gap2}>
              <ErrorText error={logIn.error} />
            </div>
          ) : null}
          <Button type="primary" htmlType="submit" block loading={logIn.isPending}>
            Log in
          </Button>
        </div>
        <p className={`soft small ${css.gap3}`}>
          The first start prints the administrator’s password, and the demo’s log-in.
        </p>
      </form>
    </div>
  );
}
