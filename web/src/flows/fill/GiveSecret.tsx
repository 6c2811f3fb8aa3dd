import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Button, Input, Popover } from 'antd';
import { useState } from 'react';
import { api, seg } from '../../api/client';
import { ErrorText } from '../../common/ui';
import css from './FillRow.module.css';

/** Gives the value of a secret for the connection that a call goes over, where the fill names it. */
export function GiveSecret({ name, connection }: { name: string; connection: string }) {
  const queries = useQueryClient();
  const [value, setValue] = useState('');
  const give = useMutation({
    mutationFn: () => api.put(`/secrets/${seg(name)}`, { value, connection }),
    // Looks at flows are made anew: whether it may be sent has changed.
    onSuccess: () => queries.invalidateQueries(),
  });
  return (
    <Popover
      trigger="click"
      content={
        <div className={css.give}>
          <p className="small">
            The value of <span className="mono">{name}</span>, for messages over{' '}
            <span className="mono">{connection}</span>. It is kept encrypted and shown to nobody.
          </p>
          <span className="row">
            <Input.Password
              size="small"
              autoFocus
              autoComplete="new-password"
              aria-label={`value of the secret ${name}`}
              value={value}
              onChange={(e) => setValue(e.target.value)}
              onPressEnter={() => value && give.mutate()}
            />
            <Button
              size="small"
              type="primary"
              disabled={!value}
              loading={give.isPending}
              onClick={() => give.mutate()}
            >
              Keep
            </Button>
          </span>
          {give.isError && <ErrorText error={give.error} />}
        </div>
      }
    >
      <button className={`link small ${css.giving}`}>give its value</button>
    </Popover>
  );
}
