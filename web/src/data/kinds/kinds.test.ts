import { describe as group, expect, it } from 'vitest';
import * as aFile from './file/targets';
import type { TargetWish } from './kind';
import * as aTable from './sql/rules';

const file: TargetWish = { file: 'windows.csv', delimiter: ';', replace: false, table: '' };
const table: TargetWish = { ...file, connection: 'harbour', table: 'harbour.windows' };

group('a target to be made', () => {
  it('says what it will do', () => {
    expect(aFile.describe(file)).toBe('windows.csv: runs add to it.');
    expect(aFile.describe({ ...file, replace: true })).toBe('windows.csv: each run puts a new one in its place.');
    expect(aTable.describe(table)).toBe('harbour.windows is made in harbour.');
    expect(aTable.describe({ ...table, exists: true })).toBe('Runs add rows to harbour.windows.');
  });
  it('is ready when it names where results go, and a table can be made or is there', () => {
    expect(aFile.isReady(file)).toBe(true);
    expect(aFile.isReady({ ...file, file: '  ' })).toBe(false);
    expect(aTable.isReady(table, true)).toBe(true);
    expect(aTable.isReady(table, false)).toBe(false);
    expect(aTable.isReady({ ...table, exists: true }, false)).toBe(true);
  });
  it('is named after its file or table', () => {
    expect([aFile.name(file), aTable.name(table)]).toEqual(['windows', 'windows']);
  });
  it('has the settings of its kind only', () => {
    const fields = [{ name: 'opens_at', label: 'Opens at', type: 'dateTime' }] as never;
    expect(aFile.settings('csv', { ...file, file: ' windows.csv ' }, fields)).toEqual({
      file: 'windows.csv',
      replace: false,
      columns: ['Opens at'],
      format: { delimiter: ';', quote: '"', encoding: 'UTF-8', header: true },
    });
    expect(aTable.settings(table)).toEqual({ connection: 'harbour', table: 'harbour.windows' });
    expect(aTable.settings({ ...table, mode: 'update', keys: ['no'] })).toMatchObject({ mode: 'update', keys: ['no'] });
    expect(aFile.settings('json', file, fields)).toEqual({ file: 'windows.csv', replace: false });
    expect(aFile.settings('xml', { ...file, root: ' windows ' }, fields).root).toBe('windows');
  });
  it('has a file with the ending of its format', () => {
    expect(aFile.renamed('windows.csv', 'xlsx')).toBe('windows.xlsx');
    expect(aFile.renamed('windows', 'json')).toBe('windows.json');
    expect(aFile.name({ ...file, file: 'list_{$run/number}.csv' })).toBe('list');
  });
  it('says when it makes the table first', () => {
    const fields = [{ name: 'opens_at' }, { name: 'closes_at' }] as never;
    expect(aTable.making(table, fields)).toBe('Make the table with 2 columns');
    expect(aTable.making({ ...table, exists: true }, fields)).toBeUndefined();
    expect(aTable.making(table, undefined)).toBeUndefined();
  });
});

group('a source', () => {
  it('is ready when there is something to read', () => {
    expect(aTable.isReadable({ connection: 'harbour', query: '  ' })).toBe(false);
    expect(aTable.isReadable({ connection: 'harbour', query: 'SELECT 1' })).toBe(true);
  });
});
