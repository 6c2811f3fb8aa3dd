import { describe, expect, it } from 'vitest';
import { newOperation, shownParameters, tidy, told, variables, type HandOperation } from './handMade';

const GET: HandOperation = { name: 'crew', method: 'GET', path: '/ships/{no}/crew/{id}', parameters: [] };

describe('an operation made by hand', () => {
  it('has a parameter for each name in its path, kept when its type was set', () => {
    const typed = { in: 'PATH' as const, name: 'id', type: 'INTEGER' as const, required: true, repeated: false };
    const rank = { in: 'QUERY' as const, name: 'rank', type: 'TEXT' as const, required: false, repeated: true };
    const o = { ...GET, parameters: [rank, typed] };
    expect(variables(o.path)).toEqual(['no', 'id']);
    expect(shownParameters(o).map((p) => `${p.in} ${p.name} ${p.type}`)).toEqual([
      'PATH no TEXT',
      'PATH id INTEGER',
      'QUERY rank TEXT',
    ]);
    expect(tidy({ ...o, path: '/ships' }).parameters).toEqual([rank]);
  });
  it('leaves a row without a name out, and a body that a GET was never given', () => {
    const empty = { in: 'HEADER' as const, name: ' ', type: 'TEXT' as const, required: false, repeated: false };
    expect(tidy({ ...GET, path: 'x', parameters: [empty], body: { form: 'JSON' } })).toEqual({
      ...GET,
      path: '/x',
      parameters: [],
      body: undefined,
    });
  });
  it('is named unlike the others', () => {
    expect(newOperation([{ ...GET, name: 'operation2' }]).name).toBe('operation3');
  });
});

describe('a field of a sample', () => {
  it('is told otherwise without losing what was told of it before', () => {
    const guess = { path: 'a/b', name: 'b', depth: 1, repeated: false, required: true, isObject: false };
    const once = told({ form: 'JSON', text: '{}' }, { ...guess, type: 'TEXT' }, { type: 'DATE' });
    const twice = told(once, { ...guess, type: 'DATE' }, { required: false });
    expect(twice.fields).toEqual([{ path: 'a/b', type: 'DATE', required: false }]);
  });
});
