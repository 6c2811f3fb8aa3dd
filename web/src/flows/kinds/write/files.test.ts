import { expect, it } from 'vitest';
import { nextFile } from './files';

it('names the next file beside one', () => {
  expect(nextFile('windows.csv')).toBe('windows-2.csv');
  expect(nextFile('windows-2.csv')).toBe('windows-3.csv');
  expect(nextFile('tide-windows')).toBe('tide-windows-2');
});
