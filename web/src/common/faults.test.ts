import { describe, expect, it } from 'vitest';
import { codeOfFault, titleOfFault } from './faults';

describe('a declared fault', () => {
  it('is known by its name, or by its status', () => {
    expect(['UnknownPort', 'HTTP 404', 'HTTP 4XX', 'HTTP default'].map(codeOfFault)).toEqual([
      'fault UnknownPort',
      'HTTP 404',
      'HTTP 4*',
      'HTTP *',
    ]);
    expect(['UnknownPort', 'HTTP 404'].map(titleOfFault)).toEqual(['fault UnknownPort', 'HTTP 404']);
  });
});
