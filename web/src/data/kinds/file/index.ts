import type { SourceKind } from '../kind';
import { BeginFile } from './BeginFile';
import { FileSource } from './FileSource';
import { FORMATS, formatOf, isReadable, usual } from './rules';

/** A kind for each format; a new one begins with its file, whatever that is. */
export const sources: SourceKind[] = Object.entries(FORMATS).map(([kind, word]) => ({
  kind,
  word,
  isReady: isReadable,
  Settings: FileSource,
  ...(kind === 'csv' && {
    Begin: BeginFile,
    begun: (s) => {
      const format = s.files ? formatOf(s.files) : 'csv';
      return { kind: format, settings: usual(format, s) };
    },
  }),
}));
