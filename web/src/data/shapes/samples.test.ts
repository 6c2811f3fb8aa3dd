import { expect, it } from 'vitest';
import { isText, shapeName, withSample } from './samples';

it('names a shape after its sample, in characters that names have', () => {
  expect(shapeName('port notice (2).json')).toBe('port_notice_2_');
  expect(shapeName('notice')).toBe('notice');
});

it('reads documents here and leaves rows to the server', () => {
  expect(['a.json', 'a.XSD', 'a.xml', 'a.jsonl'].every(isText)).toBe(true);
  expect(['a.csv', 'a.xlsx', 'a.txt'].some(isText)).toBe(false);
});

it('tells samples of one name apart', () => {
  const all = ['pasted', 'pasted', 'pasted'].reduce(
    (so, name) => withSample(so, { name, text: '{}' }),
    [] as ReturnType<typeof withSample>,
  );
  expect(all.map((s) => s.name)).toEqual(['pasted', 'pasted 2', 'pasted 3']);
});
