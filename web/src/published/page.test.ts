import { expect, test } from 'vitest';
import type { Input, PageTrigger, ShownField } from '../api/types';
import {
  canBeFile,
  choicesOf,
  choicesText,
  freshPage,
  inputPaths,
  linkAddress,
  replyPaths,
  withColumn,
  withField,
} from './page';

const page: PageTrigger = freshPage('Find free berths!');

test('a page begins with what the flow is called', () => {
  expect([page.page, page.title]).toEqual(['find-free-berths', 'Find free berths!']);
});

test('what is said of an input is kept in its place, and gone when nothing is', () => {
  const two = withField(withField(page, 'port', { label: 'Port' }), 'draught', { unit: 'm' });
  const changed = withField(two, 'port', { label: 'Where' });
  expect(changed.fields?.map((f) => f.input)).toEqual(['port', 'draught']);
  expect(withField(changed, 'port', { label: undefined }).fields).toEqual([{ input: 'draught', unit: 'm' }]);
});

test('a field that is not shown can be shown again', () => {
  const hidden = withColumn(page, 'cost', { as: 'HIDDEN' });
  const shown: ShownField[] = [{ name: 'berth', label: 'berth', kind: 'text', many: false }];
  expect(replyPaths(hidden, shown)).toEqual(['berth', 'cost']);
  expect(withColumn(hidden, 'cost', { as: undefined }).result?.columns).toEqual([]);
});

test('files are for texts, bytes, and lists with inputs inside', () => {
  const rows: Input = { name: 'calls', type: 'nested', many: true, fields: [{ name: 'eta' }] };
  expect(inputPaths([rows]).map((x) => x.path)).toEqual(['calls', 'calls/eta']);
  expect(canBeFile('calls', rows)).toBe(true);
  expect(canBeFile('calls/eta', { name: 'eta' })).toBe(false);
  expect(canBeFile('order', { name: 'order' })).toBe(true);
  expect(canBeFile('n', { name: 'n', type: 'integer' })).toBe(false);
});

test('words for choices are a line each', () => {
  const choices = choicesOf('TLWRC = Tallow Reach\n\nGULL\nX = a = b');
  expect(choices).toEqual([
    { value: 'TLWRC', label: 'Tallow Reach' },
    { value: 'GULL', label: undefined },
    { value: 'X', label: 'a = b' },
  ]);
  expect(choicesText({ input: 'port', choices })).toBe('TLWRC = Tallow Reach\nGULL\nX = a = b');
});

test('the key of a link is where it is sent to nobody', () => {
  expect(linkAddress('http://h/pages/x', 'wk_a')).toBe('http://h/pages/x#k=wk_a');
});
