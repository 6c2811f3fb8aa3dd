import { describe, expect, it } from 'vitest';
import type { Api } from '../api/types';
import { proposed } from './errorRule';

const tree = (name: string, ...children: (Api<'Tree'> | [string, string])[]): Api<'Tree'> => ({
  name,
  namespace: '',
  children: children.map((c) => (Array.isArray(c) ? { name: c[0], namespace: '', text: c[1] } : c)),
});

describe('a rule for errors inside an answer', () => {
  it('is proposed from a code, with its message', () => {
    expect(proposed(tree('r', ['status', 'ERROR'], ['errorCode', 'B-404'], ['message', 'none']))).toEqual({
      failWhen: "errorCode != ''",
      reason: 'message',
      code: 'errorCode',
    });
  });
  it('is proposed from a flag or a status that says so', () => {
    expect(proposed(tree('r', tree('head', ['success', 'false'], ['reason', 'x'])))).toEqual({
      failWhen: "head/success = ('false', '0')",
      reason: 'head/reason',
      code: undefined,
    });
    expect(proposed(tree('r', ['status', 'FAILED']))?.failWhen).toBe("status = 'FAILED'");
    expect(proposed(tree('r', ['hasErrors', 'false']))?.failWhen).toBe("hasErrors = ('true', '1')");
  });
  it('is not proposed where nothing looks like it', () => {
    expect(proposed(tree('r', ['status', 'arrived'], ['depth', '8.2']))).toBeUndefined();
  });
});
