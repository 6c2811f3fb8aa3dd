import { expect, test } from 'vitest';
import type { FormField } from '../api/types';
import { begun, bodyOf, problemsAt, problemsOf, shownValue, type Values } from './values';

const field = (name: string, kind: string, more: Partial<FormField> = {}): FormField => ({
  name,
  label: name,
  kind,
  required: false,
  many: false,
  ...more,
});

test('numbers are sent as they are typed, a decimal comma as a point, what is empty not at all', () => {
  const fields = [field('a', 'number'), field('b', 'integer'), field('c', 'text'), field('d', 'number')];
  expect(bodyOf(fields, { a: '7,20', b: '12345678901234567890', c: '', d: '007' })).toBe(
    '{"inputs":{"a":7.20,"b":12345678901234567890,"d":7}}',
  );
});

test('moments are as XML Schema has them', () => {
  const fields = [field('at', 'dateTime'), field('on', 'date'), field('from', 'time'), field('yes', 'truth')];
  expect(bodyOf(fields, { at: '2031-04-02T21:40', on: '2031-04-02', from: '21:40', yes: 'true' })).toBe(
    '{"inputs":{"at":"2031-04-02T21:40:00","on":"2031-04-02","from":"21:40:00","yes":true}}',
  );
  const zoned = field('at', 'dateTime', { value: '2031-04-02T21:40:00Z' });
  const sent = JSON.parse(bodyOf([zoned], begun([zoned]))) as { inputs: { at: string } };
  expect(new Date(sent.inputs.at).toISOString()).toBe('2031-04-02T21:40:00.000Z');
  expect(shownValue(field('on', 'date'), '2031-04-02Z')).toBe('2031-04-02');
});

test('lists, groups and files have places of their own', () => {
  const fields = [
    field('ports', 'text', { many: true }),
    field('cargo', 'group', { many: true, required: true, fields: [field('tons', 'integer')] }),
    field('agent', 'group', { fields: [field('name', 'text', { required: true })] }),
    field('calls', 'rows', { many: true, required: true }),
  ];
  const values: Values = { ...begun(fields), ports: 'A\n\nB', calls: { name: 'calls.csv', content: 'QQ==' } };
  expect(values.cargo).toEqual([{ tons: '' }]);
  expect(bodyOf(fields, { ...values, cargo: [{ tons: '3' }] })).toBe(
    '{"inputs":{"ports":["A","B"],"cargo":[{"tons":3}]},"files":{"calls":{"name":"calls.csv","content":"QQ=="}}}',
  );
  expect(problemsOf(fields, { ...values, calls: undefined })).toEqual({ calls: 'is missing: choose a file' });
});

test('what is left out of a group that may be is not missed; once begun, it is', () => {
  const agent = field('agent', 'group', { fields: [field('name', 'text', { required: true }), field('desk', 'text')] });
  expect(problemsOf([agent], { agent: { name: '', desk: '' } })).toEqual({});
  expect(problemsOf([agent], { agent: { name: '', desk: '7' } })).toEqual({ 'agent/name': 'is missing' });
});

test('what can be seen to be wrong is said before it is sent', () => {
  const fields = [
    field('port', 'text', { required: true, pattern: '[A-Z]{5}', example: 'TLWRC' }),
    field('draught', 'number', { least: '0', most: '30' }),
    field('crew', 'integer'),
    field('on', 'date', { least: '2031-04-02' }),
    field('odd', 'text', { pattern: '\\i\\c*' }),
  ];
  expect(problemsOf(fields, { port: 'x', draught: '30,5', crew: '2.5', on: '2031-04-01', odd: 'any' })).toEqual({
    port: 'is written like TLWRC',
    draught: 'is at most 30',
    crew: 'is no whole number',
    on: 'is 2031-04-02 at the earliest',
  });
  expect(problemsOf(fields, { port: 'TLWRC', draught: '7,2' })).toEqual({});
  expect(problemsOf([field('draught', 'number')], { draught: 'deep' })).toEqual({ draught: 'is no number' });
});

test('what the server found stands where it can be mended', () => {
  const fields = [
    field('port', 'text'),
    field('cargo', 'group', { many: true, fields: [field('tons', 'integer')] }),
    field('calls', 'rows', { many: true }),
  ];
  expect(
    problemsAt(fields, [
      { at: '/port', is: 'X', text: 'is none of A, B' },
      { at: '/cargo/1/tons', is: 'many', text: '“many” is no integer' },
      { at: '/calls/3/draught', is: 'deep', text: 'is no decimal' },
      { at: '/calls', text: 'cannot be read' },
      { at: '', text: 'is no JSON object' },
    ]),
  ).toEqual({
    port: '“X” is none of A, B',
    'cargo/1/tons': '“many” is no integer',
    calls: 'row 4, draught: “deep” is no decimal; cannot be read',
    '': 'is no JSON object',
  });
});
