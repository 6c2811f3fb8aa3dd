import type { Group } from '../cells/cell';
import { secretCell } from '../cells/SecretCell';
import { textCell } from '../cells/simple';

/** A user and a password. */
export const USER: Group = {
  title: 'Who we are',
  rows: [
    {
      id: 'user',
      label: 'user',
      keys: ['user'],
      always: true,
      Cell: textCell('user', { label: 'user', id: 'user', placeholder: 'none' }),
    },
    {
      id: 'secret',
      label: 'password',
      keys: ['secret'],
      always: true,
      Cell: secretCell('secret', 'password', 'secret'),
    },
  ],
};
