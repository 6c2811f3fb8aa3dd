import { durationCell, namesCell, textCell } from '../../cells/simple';
import type { ConnectionKind } from '../kind';
import { TRUST } from '../trust';
import { USER } from '../user';

export const queue: ConnectionKind = {
  kind: 'queue',
  short: 'queues',
  label: 'queues of a broker',
  probe: 'A probe connects to the broker once, and logs in.',
  groups: [
    {
      title: 'Where',
      hint: 'AMQP 1.0',
      rows: [
        {
          id: 'address',
          label: 'address',
          keys: ['url'],
          always: true,
          isApart: true,
          Cell: textCell('url', {
            label: 'address',
            id: 'address',
            placeholder: 'amqp://host:5672',
            isMono: true,
            isWide: true,
          }),
        },
        {
          id: 'queues',
          label: 'queues',
          keys: ['queues'],
          always: true,
          Cell: namesCell('queues', {
            label: 'queues looked into',
            placeholder: 'names, one after the other',
          }),
        },
        {
          id: 'connect',
          label: 'connect time-out',
          keys: ['connectTimeoutMillis'],
          Cell: durationCell('connectTimeoutMillis', { label: 'connect time-out', placeholder: '5 s' }),
        },
      ],
    },
    USER,
    TRUST,
  ],
};
