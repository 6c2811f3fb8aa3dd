import { secretCell } from '../../cells/SecretCell';
import { textCell } from '../../cells/simple';
import type { ConnectionKind } from '../kind';

export const database: ConnectionKind = {
  kind: 'database',
  short: 'database',
  label: 'a database',
  groups: [
    {
      title: 'Where',
      rows: [
        {
          id: 'address',
          label: 'JDBC address',
          keys: ['url'],
          always: true,
          isApart: true,
          Cell: textCell('url', {
            label: 'address',
            id: 'address',
            placeholder: 'jdbc:postgresql://host:5432/name',
            isMono: true,
            isWide: true,
          }),
        },
      ],
    },
    {
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
    },
  ],
};
