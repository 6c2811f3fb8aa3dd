import type { SourceKind, TargetKind } from '../kind';
import { AboutFile } from './AboutFile';
import { BeginFile } from './BeginFile';
import { FileSource } from './FileSource';
import { FileTarget } from './FileTarget';
import { describe, isReadable, isReady, name, settings } from './rules';

export const source: SourceKind = {
  kind: 'csv',
  word: 'file',
  isReady: isReadable,
  Begin: BeginFile,
  Settings: FileSource,
};

export const target: TargetKind = {
  kind: 'csv',
  word: 'file',
  label: 'a delimited file',
  Maker: FileTarget,
  isReady,
  describe,
  name,
  settings,
  About: AboutFile,
};
