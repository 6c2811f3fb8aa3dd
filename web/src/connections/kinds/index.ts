import { database } from './database';
import type { ConnectionKind } from './kind';
import { soap } from './soap';

export const KINDS: ConnectionKind[] = [soap, database];
export const kindNamed = (kind: string) => KINDS.find((k) => k.kind === kind) ?? soap;
