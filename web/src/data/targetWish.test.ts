import { describe as group, expect, it } from 'vitest';
import { describe, isReady, targetName, type TargetWish } from './targetWish';

const file: TargetWish = { kind: 'csv', file: 'windows.csv', delimiter: ';', replace: false, table: '' };
const table: TargetWish = { ...file, kind: 'sql', connection: 'harbour', table: 'harbour.windows' };

group('a target to be made', () => {
  it('says what it will do', () => {
    expect(describe(file)).toBe('windows.csv: runs add to it.');
    expect(describe({ ...file, replace: true })).toBe('windows.csv: each run puts a new one in its place.');
    expect(describe(table)).toBe('harbour.windows is made in harbour.');
    expect(describe({ ...table, exists: true })).toBe('Runs add rows to harbour.windows.');
  });
  it('is ready when it names where results go, and a table can be made or is there', () => {
    expect(isReady(file, false)).toBe(true);
    expect(isReady({ ...file, file: '  ' }, true)).toBe(false);
    expect(isReady(table, true)).toBe(true);
    expect(isReady(table, false)).toBe(false);
    expect(isReady({ ...table, exists: true }, false)).toBe(true);
  });
  it('is named after its file or table', () => {
    expect([file, table].map(targetName)).toEqual(['windows', 'windows']);
  });
});
