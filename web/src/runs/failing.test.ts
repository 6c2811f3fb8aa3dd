import { expect, it } from 'vitest';
import type { FlowView } from '../api/types';
import { failing } from './failing';

const flow = {
  definition: {
    steps: [
      {
        kind: 'call',
        fill: [
          { path: 'Ask/draught', xpath: 'draft_m' },
          { path: 'Ask/arrival', xpath: "wk:date-time(eta, 'dd.MM.yyyy HH:mm')" },
          { path: 'Ask/port', xpath: 'port' },
        ],
      },
    ],
  },
} as FlowView;

it('names the source fields of the rows that do not fit', () => {
  expect(failing(flow, ['draught does not fit', 'fault UnknownPort'])).toEqual(['draft_m']);
  expect(failing(flow, ['arrival does not fit'])).toContain('eta');
  expect(failing(flow, ['arrival does not fit'])).not.toContain('dd.MM.yyyy');
  expect(failing(undefined, ['draught does not fit'])).toEqual([]);
});
