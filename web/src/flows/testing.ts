import type { ShapeRow } from '../api/types';

/** A row for tests: a required element with a text, unless said otherwise. */
export const row = (path: string, more: Partial<ShapeRow> = {}): ShapeRow => ({
  path,
  depth: path.split('/').length - 1,
  name: path.split('/').pop() ?? '',
  namespace: '',
  kind: 'element',
  header: false,
  closed: false,
  occurs: '1',
  required: true,
  repeated: false,
  nillable: false,
  hasText: true,
  isAbstract: false,
  ...more,
});
