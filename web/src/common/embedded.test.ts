import { describe, expect, it } from 'vitest';
import { embedded, lookup } from './embedded';

describe('a document in a string', () => {
  it('is JSON when all of it is', () => {
    expect(embedded(' {"area":"Skarn","watches":[{"force":6},null]} ')).toEqual({
      kind: 'JSON',
      root: {
        name: '',
        children: [
          { name: 'area', text: 'Skarn' },
          {
            name: 'watches',
            children: [
              { name: '1', isItem: true, children: [{ name: 'force', text: '6' }] },
              { name: '2', isItem: true, nil: true },
            ],
          },
        ],
      },
    });
    expect(embedded('{not json}')).toBeNull();
    expect(embedded('plain words')).toBeNull();
    expect(embedded(undefined)).toBeNull();
  });
  it('is reached by look-ups', () => {
    expect(lookup('parse-json(r)', 'area')).toBe('parse-json(r)?area');
    expect(lookup('parse-json(r)?watches', '2')).toBe('parse-json(r)?watches?2');
    expect(lookup('x', 'wave height "m"')).toBe('x?("wave height ""m""")');
  });
});
