import { expect, test } from 'vitest';
import { propertiesOf } from './properties';

test('properties are typed a line each', () => {
  expect(propertiesOf('station = QUAYW\n\nnote=a = b\n = lost\nempty')).toEqual({
    station: 'QUAYW',
    note: 'a = b',
    empty: '',
  });
});
