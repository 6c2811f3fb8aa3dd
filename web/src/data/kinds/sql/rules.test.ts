import { expect, it } from 'vitest';
import { isReadable, taken } from './rules';

const asked = { connection: 'harbour', query: 'SELECT 1 WHERE :a' };

it('a query is asked once each parameter has a value', () => {
  expect(isReadable(asked)).toBe(true);
  expect(isReadable({ ...asked, parameters: [{ name: 'a' }] })).toBe(false);
  expect(isReadable({ ...asked, parameters: [{ name: 'a', text: '' }] })).toBe(true);
  expect(isReadable({ ...asked, parameters: [{ name: 'a', xpath: 'current-date()' }] })).toBe(true);
});

it('what was written changes the settings only when it is other', () => {
  expect(taken(asked, { query: asked.query, parameters: [] })).toBe(asked);
  expect(taken(asked, { query: 'SELECT 2', parameters: [] })).toEqual({ ...asked, query: 'SELECT 2' });
  const given = taken(asked, { query: asked.query, parameters: [{ name: 'a', text: '1' }] });
  expect(given.parameters).toEqual([{ name: 'a', text: '1' }]);
  expect(taken(given, { query: asked.query, parameters: [] }).parameters).toBeUndefined();
});
