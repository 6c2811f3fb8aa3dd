import { describe, expect, it } from 'vitest';
import { byRule, kindWord, withKind } from './kindRules';
import { merged } from './values';

describe('kinds by rule', () => {
  it('begin with the kind there is, or the first', () => {
    expect(byRule({ path: 'a', kind: '{u}Bulk' }, '{u}Reefer')).toEqual([{ kind: '{u}Bulk' }]);
    expect(byRule(undefined, '{u}Reefer')).toEqual([{ kind: '{u}Reefer' }]);
    expect(byRule(undefined, undefined)).toEqual([{ kind: '' }]);
  });
  it('are changed one by one, and named by their local names', () => {
    const two = [{ kind: '{u}Bulk', when: "stow = 'loose'" }, { kind: '' }];
    expect(withKind(two, 1, { kind: '{u}Reefer' })).toEqual([two[0], { kind: '{u}Reefer' }]);
    expect(two.map((k) => kindWord(k.kind))).toEqual(['Bulk', 'as declared']);
  });
  it('are something to keep of a rule', () => {
    expect(merged([], { path: 'a', kinds: [{ kind: '' }] })).toHaveLength(1);
    expect(merged([{ path: 'a', kinds: [{ kind: '' }] }], { path: 'a' })).toHaveLength(0);
  });
});
