import { expect, it } from 'vitest';
import { fileIn, filePath } from './files';

it('finds the file that a message names', () => {
  expect(fileIn('"file:papers/a &amp; b.pdf"')).toBe('papers/a & b.pdf');
  expect(fileIn('"cid:one@x"')).toBeUndefined();
  expect(fileIn('file: no reference')).toBe(' no reference');
  expect(filePath('papers/a & b.pdf')).toBe('/files/papers/a%20%26%20b.pdf');
});
