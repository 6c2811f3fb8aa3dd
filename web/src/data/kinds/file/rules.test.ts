import { describe, expect, it } from 'vitest';
import type { Field } from '../../../api/types';
import { formatOf, isReadable, rowFields, unitOf, usual, withUnit } from './rules';

const field = (name: string, fields?: Field[]) => ({ name, label: name, type: 'string', fields }) as Field;

describe('a file as a source', () => {
  it('is ready when it is one file, or a pattern of several', () => {
    expect([{}, { file: 'f1' }, { files: ' ' }, { files: 'a/*.csv' }].map(isReadable)).toEqual([
      false,
      true,
      false,
      true,
    ]);
  });
  it('is of the format that its ending says', () => {
    expect(['a.json', 'x/*.JSONL', '*.xml', 'b.xlsx', '*.txt'].map(formatOf)).toEqual([
      'json',
      'jsonl',
      'xml',
      'xlsx',
      'csv',
    ]);
  });
  it('keeps what formats have in common when its format changes', () => {
    const csv = usual('csv', { file: 'f1', group: { count: 2, keys: [] } });
    expect(csv.format?.delimiter).toBe(';');
    const json = usual('json', csv);
    expect(json).toEqual({ file: 'f1', group: { count: 2, keys: [] }, path: '' });
    expect(usual('json', { ...json, path: 'a/b' }).path).toBe('a/b');
  });
});

describe('what one record is', () => {
  const fields = [field('line', [field('a')]), field('no'), field('port')];
  it('is a row, several, or those with one key', () => {
    const byKey = withUnit({ file: 'f1' }, 'key', fields);
    expect(byKey.group).toEqual({ count: 0, keys: ['no'] });
    expect(unitOf(byKey)).toBe('key');
    expect(withUnit({ ...byKey, group: { count: 0, keys: ['port'] } }, 'key', fields).group?.keys).toEqual(['port']);
    expect(unitOf(withUnit(byKey, 'count', fields))).toBe('count');
    expect(withUnit(byKey, 'row', fields)).toEqual({ file: 'f1' });
  });
  it('has the fields of its rows inside', () => {
    const grouped = [field('no'), field('row', [field('no'), field('port')])];
    expect(rowFields({ group: { count: 0, keys: ['no'] } }, grouped).map((f) => f.name)).toEqual(['no', 'port']);
    expect(rowFields({}, fields)).toBe(fields);
  });
});
