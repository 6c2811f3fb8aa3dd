import { expect, it } from 'vitest';
import { parametersOf } from './sqlParameters';

it('parameters are names after a colon outside of texts, names, comments and casts', () => {
  const sql = `SELECT ':no', "a:b", x::int FROM t -- :never\nWHERE a = :port AND b > :draught AND c = :port`;
  expect(parametersOf(sql, [{ name: 'port', xpath: 'p' }])).toEqual([
    { name: 'port', xpath: 'p' },
    { name: 'draught' },
  ]);
  expect(parametersOf('SELECT 1', [{ name: 'port' }])).toEqual([]);
});
