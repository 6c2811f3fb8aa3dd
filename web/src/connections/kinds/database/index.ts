import { textCell } from '../../cells/simple';
import type { ConnectionKind } from '../kind';
import { USER } from '../user';

export const database: ConnectionKind = {
  kind: 'database',
  short: 'database',
  label: 'a database',
  probe: 'A probe connects to the database once, and says what it is and what its account may do.',
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
    USER,
  ],
};
