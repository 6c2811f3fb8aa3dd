import * as file from './file';
import type { SourceKind, TargetKind } from './kind';
import * as operation from './operation';
import * as sql from './sql';

/** In the order in which they are offered. */
export const SOURCES: SourceKind[] = [...file.sources, sql.source, operation.source];
export const TARGETS: TargetKind[] = [...file.targets, sql.target];

export const sourceKind = (kind: string | undefined) => SOURCES.find((k) => k.kind === kind);
export const targetKind = (kind: string | undefined) => TARGETS.find((k) => k.kind === kind) ?? file.targets[0];
export type { SourceDraft, SourceKind, SourceSettings, TargetKind, TargetSettings, TargetWish } from './kind';
