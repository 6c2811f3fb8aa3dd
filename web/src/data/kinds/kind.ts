import type { ComponentType } from 'react';
import type { Field, SourceView, TargetView } from '../../api/types';

/** Settings of a source while they are edited. */
export type SourceSettings = Partial<SourceView['settings']>;
export type TargetSettings = Partial<TargetView['settings']>;

/** A source as it is being made or changed. */
export interface SourceDraft {
  kind: string;
  /** Reads it as another kind, with settings of that. */
  setKind: (kind: string, settings: SourceSettings) => void;
  settings: SourceSettings;
  set: (change: (s: SourceSettings) => SourceSettings) => void;
  /** Whether it is not kept yet. */
  isNew: boolean;
  /** Puts the chosen file in the place of the one there is, or makes the source of it. */
  upload: { choose: () => void; isPending: boolean };
  /** Of the records that are shown. */
  fields: Field[];
}

export interface BeginProps {
  begin: (s: SourceSettings) => void;
  /** Lets a file be chosen. */
  choose: () => void;
  take: (file: File) => void;
  /** Whether one is being dragged over the page. */
  over: boolean;
}

/** A kind of source as the pages know it. A new one is a folder here and its line in the registry. */
export interface SourceKind {
  kind: string;
  /** For lists. */
  word: string;
  /** Whether there is something to read with these settings. */
  isReady: (s: SourceSettings) => boolean;
  /** How a new one begins; those of all kinds that have one are shown one below the other. */
  Begin?: ComponentType<BeginProps>;
  /** The kind and settings it then has, when those depend on how it was begun. */
  begun?: (s: SourceSettings) => { kind: string; settings: SourceSettings };
  Settings: ComponentType<SourceDraft>;
  /** What is kept of the settings, with the fields that were seen with them. */
  kept?: (s: SourceSettings, fields: Field[]) => SourceSettings;
}

/** A target as it is to be made. What only one kind asks for is absent for the others. */
export interface TargetWish {
  file: string;
  delimiter: string;
  /** Whether a run's file takes the old one's place. */
  replace: boolean;
  /** For XML: the elements of the document and of a row. */
  root?: string;
  row?: string;
  sheet?: string;
  connection?: string;
  table: string;
  mode?: string;
  keys?: string[];
  /** Whether texts of a new table are no longer than those seen, and what always had a value needs one. */
  asSeen?: boolean;
  /** Whether the table is there; undefined while that is not known. */
  exists?: boolean;
}

export interface TargetMakerProps {
  wish: TargetWish;
  change: (by: Partial<TargetWish>) => void;
  /** Whether the fields of the results are known, so that a place for them can be made. */
  hasFields: boolean;
  fields?: Field[];
}

/** A kind of target as the pages know it. */
export interface TargetKind {
  kind: string;
  word: string;
  /** To choose from. */
  label: string;
  /** Whether a row of it has values only, nothing inside of them. */
  isFlat?: boolean;
  Maker: ComponentType<TargetMakerProps>;
  /** What changes in the wish when this kind is chosen. */
  chosen?: (w: TargetWish) => Partial<TargetWish>;
  isReady: (w: TargetWish, hasFields: boolean) => boolean;
  /** What will be made, in words. */
  describe: (w: TargetWish) => string;
  /** The name it gets. */
  name: (w: TargetWish) => string;
  settings: (w: TargetWish, fields: Field[] | undefined) => TargetSettings;
  /** Makes the place itself, when that is not there yet. */
  prepare?: (w: TargetWish, fields: Field[] | undefined, environment: string) => Promise<void>;
  /** What `prepare` will do, for the button. */
  making?: (w: TargetWish, fields: Field[] | undefined) => string | undefined;
  /** Where an existing one leads to, and what can be chosen of it. */
  About: ComponentType<{ target: TargetView; set: (by: TargetSettings) => void; isThere: boolean }>;
}
