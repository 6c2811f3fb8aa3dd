import type { TargetKind } from '../kind';
import { AboutFile } from './AboutFile';
import { FileTarget } from './FileTarget';
import { describe, isReady, name, settings } from './rules';

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
