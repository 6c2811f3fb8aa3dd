import type { SourceKind, TargetKind } from '../kind';
import { AboutFile } from './AboutFile';
import { BeginFile } from './BeginFile';
import { FileSource } from './FileSource';
import { FileTarget } from './FileTarget';
import { FORMATS, formatOf, isReadable, usual } from './rules';
import { WRITTEN, describe, describeFolder, isReady, name, renamed, settings, type Written } from './targets';

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

export const targets: TargetKind[] = (Object.keys(WRITTEN) as Written[]).map((kind) => ({
  kind,
  word: kind === 'text' ? 'text' : kind === 'folder' ? 'files' : FORMATS[kind],
  label: WRITTEN[kind].label,
  isFlat: kind === 'csv' || kind === 'xlsx',
  Maker: (props) => <FileTarget kind={kind} {...props} />,
  chosen: (w) => ({ file: renamed(w.file, kind) }),
  isReady,
  describe: kind === 'folder' ? describeFolder : describe,
  name,
  settings: (w, fields) => settings(kind, w, fields),
  About: AboutFile,
}));
