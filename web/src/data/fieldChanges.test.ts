import { describe, expect, it } from 'vitest';
import type { Field } from '../api/types';
import { fieldChanges } from './fieldChanges';

const field = (name: string, type = 'string', by: Partial<Field> = {}): Field => ({ name, label: name, type, ...by });
const uses = [{ flow: 1, name: 'Tide windows', words: ['eta', 'draft_m'] }];

describe('another file of a source', () => {
  it('has the same fields when nothing is said', () => {
    expect(fieldChanges([field('eta')], [field('eta')], uses)).toEqual([]);
  });
  it('tells what is gone, of another type and new, that which flows use first', () => {
    const was = [field('port'), field('eta', 'dateTime', { pattern: 'dd.MM.yyyy' }), field('draft_m', 'decimal')];
    const is = [field('eta', 'dateTime', { pattern: 'MM/dd/yyyy' }), field('berth')];
    expect(fieldChanges(was, is, uses)).toEqual([
      { field: 'eta', what: 'was dateTime dd.MM.yyyy, is dateTime MM/dd/yyyy', usedBy: ['Tide windows'] },
      { field: 'draft_m', what: 'is gone', usedBy: ['Tide windows'] },
      { field: 'port', what: 'is gone', usedBy: [] },
      { field: 'berth', what: 'is new', usedBy: [] },
    ]);
  });
  it('looks inside', () => {
    const was = [field('line', 'nested', { fields: [field('eta')] })];
    expect(fieldChanges(was, [field('line', 'nested', { fields: [] })], uses)).toEqual([
      { field: 'line/eta', what: 'is gone', usedBy: ['Tide windows'] },
    ]);
  });
});
