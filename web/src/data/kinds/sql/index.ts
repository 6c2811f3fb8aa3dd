import { api } from '../../../api/client';
import type { SourceKind, TargetKind } from '../kind';
import { AboutTable } from './AboutTable';
import { BeginQuery } from './BeginQuery';
import { QuerySource } from './QuerySource';
import { describe, isMade, isReadable, isReady, madeOf, making, name, settings } from './rules';
import { TableTarget } from './TableTarget';

export const source: SourceKind = {
  kind: 'sql',
  word: 'query',
  isReady: isReadable,
  Begin: BeginQuery,
  Settings: QuerySource,
};

export const target: TargetKind = {
  kind: 'sql',
  word: 'table',
  label: 'a table',
  isFlat: true,
  Maker: TableTarget,
  isReady,
  describe,
  name,
  settings,
  making,
  prepare: async (w, fields, environment) => {
    const { connection, table } = w;
    if (isMade(w) && fields)
      await api.post('/data/tables', { connection, environment, table, fields: madeOf(fields, w.asSeen) });
  },
  About: AboutTable,
};
